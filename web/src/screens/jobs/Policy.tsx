import { useSearchParams } from 'react-router';
import { useMe } from '../../api/people.ts';
import { SegmentedControl } from '../../ui/SegmentedControl.tsx';
import { Matters } from './shop/Matters.tsx';
import { ModelBuilds } from './shop/ModelBuilds.tsx';
import { RotorPrices } from './shop/RotorPrices.tsx';

const VIEWS = [
  { value: 'matters', label: 'Matters of method' },
  { value: 'models', label: 'How models are built' },
  { value: 'rotors', label: 'What rotors cost' },
] as const;

/** How the shop does it: what cards, decisions and fluid arithmetic hang on beside readings and specifications. */
export function Policy() {
  const me = useMe();
  const [address, setAddress] = useSearchParams();
  const view = VIEWS.find(({ value }) => value === address.get('view'))?.value ?? 'matters';
  return (
    <div className="h-full overflow-y-auto p-4">
      <header className="mb-3 flex flex-wrap items-center gap-4">
        <h1 className="text-lg font-semibold">How the shop does it</h1>
        <SegmentedControl
          label="View"
          hideLabel
          value={view}
          options={[...VIEWS]}
          onChange={(next) => setAddress({ view: next }, { replace: true })}
        />
      </header>
      {view === 'matters' && <Matters me={me} />}
      {view === 'models' && <ModelBuilds me={me} />}
      {view === 'rotors' && <RotorPrices me={me} />}
    </div>
  );
}
