import { Link } from 'react-router';
import { useLookBy } from '../../api/plan.ts';
import { Button } from '../../ui/Button.tsx';
import { DataTable } from '../../ui/DataTable.tsx';
import { State } from '../../ui/State.tsx';
import { formatDate } from '../../ui/format.ts';
import { axlesInWords } from './figures.ts';

/** Axles that are best looked at, by when, and what it can be done with. */
export function Looks({ depot }: { depot: string }) {
  const looks = useLookBy();
  if (looks.isPending) return <State title="Loading" what="Fetching the looks that are due." quiet />;
  if (looks.isLoadingError)
    return (
      <State title="The looks couldn’t load" what={looks.error.message}>
        <Button onClick={() => void looks.refetch()}>Try again</Button>
      </State>
    );
  const own = looks.data.filter((one) => one.depot === depot);
  if (own.length === 0)
    return (
      <State
        title="No look pays"
        what={`No axle of ${depot} with a mark in the next sixteen weeks would gain a week or more by one.`}
      />
    );
  return (
    <div className="min-h-0 flex-1 overflow-y-auto">
      <DataTable name="look-by" className="w-full text-left">
        <thead>
          <tr className="border-b border-line text-soft">
            {['Unit', 'Axles', 'Look by', 'Best on', 'With', 'Why'].map((head) => (
              <th key={head} className="py-1 pr-3 font-medium">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {own.map((one) => (
            <tr key={one.unit} className="border-b border-hair">
              <td className="py-1.5 pr-3">
                <Link
                  className="figures text-base font-semibold underline decoration-line underline-offset-4"
                  to={`/vehicles/${one.unit}`}
                >
                  {one.unit}
                </Link>
              </td>
              <td className="figures py-1.5 pr-3">{axlesInWords(one.axles).replace(/^axles? /, '')}</td>
              <td className="py-1.5 pr-3 whitespace-nowrap">{formatDate(one.by)}</td>
              <td className="py-1.5 pr-3 whitespace-nowrap">
                {one.day === null ? 'no day left' : formatDate(one.day)}
              </td>
              <td className="py-1.5 pr-3">{one.with}</td>
              <td className="py-1.5 text-soft">{one.why}</td>
            </tr>
          ))}
        </tbody>
      </DataTable>
    </div>
  );
}
