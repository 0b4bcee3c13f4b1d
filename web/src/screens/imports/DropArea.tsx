import { Link } from 'react-router';
import { useHandedOver } from '../../stores/handedOver.ts';
import type { Rejected } from './files.ts';

/** Where files are dropped or chosen, with what was not taken of the last ones. */
export function DropArea({
  reading,
  rejected,
  onFiles,
}: {
  reading: boolean;
  rejected: Rejected[];
  onFiles: (list: FileList | null) => void;
}) {
  return (
    <div className="flex flex-col gap-4 p-4 sm:h-full sm:p-8">
      <h1 className="text-xl font-semibold">Import sheets and lists</h1>
      <label className="flex min-h-40 cursor-pointer flex-col items-center justify-center gap-2 min-w-0 border-2 border-dashed border-soft bg-sheet p-3 sm:p-6 text-center focus-within:outline-2">
        <span className="sm:text-lg">{reading ? 'Reading …' : 'Drop technicians’ sheets and lists here'}</span>
        <span className="rounded-sm border border-line bg-raised px-3 py-1.5">Choose files&nbsp;…</span>
        <span className="text-soft">models, duties, vehicles, services, readings; several at once</span>
        <input
          type="file"
          accept=".csv,.txt,.tsv,.xlsx,.json,text/csv,application/json,application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
          multiple
          aria-label="Files to import"
          className="sr-only"
          onChange={(event) => onFiles(event.target.files)}
        />
      </label>
      <Rejections rejected={rejected} />
      <p className="max-w-prose text-soft">
        CSV files and XLSX workbooks, as they are: with titles, two lines of header, a column a wheel or a pad. Each is
        shown as it was understood before anything is written; what nothing in it decides is asked. A row is accepted,
        questioned or refused with the reason in words; nothing is lost, and the same file twice adds nothing. What
        waits here is kept, with all that was answered, until it is taken in or put away.
      </p>
    </div>
  );
}

const WAYS = { study: '/gauges?view=studies', library: '/specifications?view=files' } as const;

/** Files that were not kept, each with its reason, and the way to where it belongs. */
export function Rejections({ rejected }: { rejected: Rejected[] }) {
  const hand = useHandedOver((store) => store.hand);
  return (
    <div role="alert">
      <ul>
        {rejected.map(({ name, message, elsewhere }) => (
          <li key={name} className="font-medium text-brick">
            {name}: {message}{' '}
            {elsewhere && (
              <Link
                className="underline"
                to={WAYS[elsewhere.place]}
                onClick={() => hand(elsewhere.place, elsewhere.file)}
              >
                Take it there
              </Link>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}
