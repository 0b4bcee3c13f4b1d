import { useSearchParams } from 'react-router';
import { useChangedSince, useOpenSpecifications } from '../../api/specifications.ts';
import { useMe } from '../../api/people.ts';
import { SegmentedControl } from '../../ui/SegmentedControl.tsx';
import { Changed } from './Changed.tsx';
import { Files } from './Files.tsx';
import { Gaps } from './Gaps.tsx';
import { Library } from './Library.tsx';
import { Limits } from './Limits.tsx';
import { LookUp } from './LookUp.tsx';
import { Tools } from './Tools.tsx';
import { ToRelease } from './ToRelease.tsx';

const VIEWS = ['look-up', 'library', 'to-release', 'changed', 'gaps', 'tools', 'limits', 'files'] as const;
type View = (typeof VIEWS)[number];

/** Specifications: how tight, with what, by whose word. */
export function Specifications() {
  const me = useMe();
  const [params, setParams] = useSearchParams();
  const view = VIEWS.find((one) => one === params.get('view')) ?? 'look-up';
  const open = useOpenSpecifications().data?.length ?? 0;
  const changed = useChangedSince().data?.length ?? 0;
  const label = (name: string, count: number) => (count > 0 ? `${name} ${count}` : name);
  return (
    <div className="h-full overflow-y-auto bg-ground p-4 text-ink print:overflow-visible print:bg-white print:p-0">
      <header className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2 print:hidden">
        <h1 className="text-xl font-semibold">Specifications</h1>
        <div className="max-w-full overflow-x-auto">
          <SegmentedControl<View>
            label="View"
            hideLabel
            value={view}
            onChange={(next) => setParams(next === 'look-up' ? {} : { view: next })}
            options={[
              { value: 'look-up', label: 'Look up' },
              { value: 'library', label: 'Library' },
              { value: 'to-release', label: label('To release', open) },
              { value: 'changed', label: label('Changed since done', changed) },
              { value: 'gaps', label: 'What is missing' },
              { value: 'tools', label: 'Torque tools' },
              { value: 'limits', label: 'Limits' },
              { value: 'files', label: 'Files' },
            ]}
          />
        </div>
      </header>
      {view === 'look-up' && <LookUp />}
      {view === 'library' && <Library me={me} />}
      {view === 'to-release' && <ToRelease me={me} />}
      {view === 'changed' && <Changed me={me} />}
      {view === 'gaps' && <Gaps />}
      {view === 'tools' && <Tools me={me} />}
      {view === 'limits' && <Limits me={me} />}
      {view === 'files' && <Files me={me} />}
    </div>
  );
}
