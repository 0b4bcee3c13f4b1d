import { mayDo } from '@mile-mark/contract';
import { useSearchParams } from 'react-router';
import { useMe } from '../../api/people.ts';
import { Pick } from '../../ui/Pick.tsx';
import { HandsView } from './HandsView.tsx';
import { Register } from './Register.tsx';
import { StudyList } from './StudyList.tsx';

const VIEWS = [
  { value: 'hands', label: 'How they read' },
  { value: 'studies', label: 'Gauge studies' },
  { value: 'register', label: 'People and gauges' },
] as const;
type View = (typeof VIEWS)[number]['value'];

/** Gauges & technicians: how each hand and gauge reads, studies, and the register. */
export function Gauges() {
  const me = useMe();
  const measures = mayDo(me.role, 'measure');
  const [params, setParams] = useSearchParams();
  const wanted = params.get('view') as View | null;
  const view: View = measures ? (wanted ?? 'hands') : 'register';
  return (
    <div className="h-full overflow-y-auto p-4">
      <header className="mb-4 flex flex-wrap items-center gap-4">
        <h1 className="text-xl font-semibold">Gauges &amp; technicians</h1>
        {measures && (
          <Pick
            label="View"
            hideLabel
            value={view}
            options={[...VIEWS]}
            onChange={(next) => setParams({ view: next })}
          />
        )}
      </header>
      {view === 'hands' && <HandsView me={me} />}
      {view === 'studies' && <StudyList me={me} />}
      {view === 'register' && <Register />}
    </div>
  );
}
