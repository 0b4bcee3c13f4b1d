import { useSearchParams } from 'react-router';
import { useMe } from '../../api/people.ts';
import { SegmentedControl } from '../../ui/SegmentedControl.tsx';
import { AppraisersView } from './AppraisersView.tsx';
import { StudyList } from './StudyList.tsx';

const VIEWS = [
  { value: 'appraisers', label: 'How they read' },
  { value: 'studies', label: 'Gauge studies' },
] as const;
type View = (typeof VIEWS)[number]['value'];

/** Gauges & technicians: how each appraiser and gauge reads, and their studies. */
export function Gauges() {
  const me = useMe();
  const [params, setParams] = useSearchParams();
  const wanted = VIEWS.find(({ value }) => value === params.get('view'))?.value;
  const view: View = wanted ?? 'appraisers';
  return (
    <div className="h-full overflow-y-auto p-4">
      <header className="mb-4 flex flex-wrap items-center gap-4">
        <h1 className="text-xl font-semibold">Gauges &amp; technicians</h1>
        <SegmentedControl
          label="View"
          hideLabel
          value={view}
          options={[...VIEWS]}
          onChange={(next) => setParams({ view: next })}
        />
      </header>
      {view === 'appraisers' && <AppraisersView me={me} />}
      {view === 'studies' && <StudyList me={me} />}
    </div>
  );
}
