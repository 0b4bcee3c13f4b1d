import { DataTable } from '../../ui/DataTable.tsx';
import { Link } from 'react-router';
import type { Coverage } from '@mile-mark/contract/specifications';
import { useCoverage } from '../../api/specifications.ts';
import { formatDate } from '../../ui/format.ts';
import { State } from '../../ui/State.tsx';
import { Heads } from '../../ui/Heads.tsx';
import { byCause, type Unreached } from './causes.ts';

/** What is missing before jobs can be done: torques no bench reaches, and joints nobody released; nearest mark first. */
export function Gaps() {
  const coverage = useCoverage();
  if (coverage.isPending)
    return <State title="Loading" what="Holding every job against the library and the benches." quiet />;
  if (coverage.isLoadingError) return <State title="It couldn’t load" what={coverage.error.message} />;
  const { lacking, unreachable } = coverage.data;
  return (
    <div className="flex flex-col gap-6">
      <section aria-labelledby="unreachable">
        <h2 id="unreachable" className="text-lg font-semibold">
          Jobs that their bench can’t finish
        </h2>
        <p className="mb-2 text-soft">
          No wrench of the depot reaches this torque in calibration, alone, with an adapter, or with a multiplier.
          Nearest mile mark first.
        </p>
        {unreachable.length === 0 ? (
          <p>None: every released torque is in reach where it is needed.</p>
        ) : (
          <Unreachable rows={unreachable} />
        )}
      </section>
      <section aria-labelledby="lacking">
        <h2 id="lacking" className="text-lg font-semibold">
          Joints without a released specification
        </h2>
        <p className="mb-2 text-soft">Unknown stays unknown: nothing is put in its place. Nearest mile mark first.</p>
        {lacking.length === 0 ? (
          <p>None: every joint that the fleet’s axles have is released.</p>
        ) : (
          <Lacking rows={lacking} />
        )}
      </section>
    </div>
  );
}

function Unreachable({ rows }: { rows: Unreached[] }) {
  return (
    <DataTable name="missing-specifications" className="w-full bg-sheet">
      <Heads names={['Depot', 'Joint and torque', 'Why, and what is needed', 'First to need it']} />
      <tbody>
        {byCause(rows).map(({ key, rows: own }) => {
          const [first] = own;
          if (!first) return null;
          return (
            <tr key={key} className="border-b border-hair align-top">
              <td className="px-2 py-1.5 font-medium">{first.depot}</td>
              <td className="px-2 py-1.5">
                {own.map((row) => (
                  <p key={`${row.model} ${row.joint} ${row.axles.join()}`}>
                    {row.joint} <span className="figures font-semibold">{row.torque}</span>
                    <span className="text-soft">
                      {' '}
                      · {row.model}, {row.axles.length === 1 ? 'axle' : 'axles'} {row.axles.join(', ')}
                    </span>
                  </p>
                ))}
              </td>
              <td className="max-w-md px-2 py-1.5">
                {first.overdue ? (
                  <>
                    <strong className="text-brick">{first.overdue.tool}</strong> reaches{' '}
                    {own.length === 1 ? 'it' : `all ${own.length}`}, but{' '}
                    {first.overdue.due === null
                      ? 'has no calibration on record'
                      : `its calibration was due on ${formatDate(first.overdue.due)}`}
                    .{' '}
                    <Link className="underline" to="/specifications?view=tools">
                      Have it calibrated
                    </Link>
                  </>
                ) : (
                  first.need
                )}
                {first.elsewhere.length > 0 && (
                  <span className="block text-soft">In reach at {first.elsewhere.join(', ')}.</span>
                )}
              </td>
              <td className="px-2 py-1.5">
                <Jobs jobs={first.jobs} all={Math.max(...own.map(({ vehicles }) => vehicles))} />
              </td>
            </tr>
          );
        })}
      </tbody>
    </DataTable>
  );
}

function Jobs({ jobs, all }: { jobs: { unit: string; markDate: string }[]; all: number }) {
  const [first, ...others] = jobs;
  if (!first) return <span className="text-soft">no mark yet</span>;
  return (
    <>
      <Link className="figures font-semibold underline" to={`/vehicles/${first.unit}`}>
        {first.unit}
      </Link>{' '}
      <span className="figures">{formatDate(first.markDate)}</span>
      {all > 1 && (
        <span className="block text-soft">
          then{' '}
          {others
            .slice(0, 3)
            .map(({ unit }) => unit)
            .join(', ')}
          {all > 4 && ` and ${all - 4} more`}
        </span>
      )}
    </>
  );
}

function Lacking({ rows }: { rows: Coverage['lacking'] }) {
  return (
    <DataTable name="joints-out-of-reach" className="w-full bg-sheet">
      <Heads names={['Joint', 'Model and axle', 'Vehicles', 'First to need it', 'What to do']} />
      <tbody>
        {rows.map((row) => (
          <tr key={`${row.modelId} ${row.axle} ${row.joint}`} className="border-b border-hair align-top">
            <td className="px-2 py-1.5 font-medium">{row.joint}</td>
            <td className="px-2 py-1.5">
              {row.model}, axle {row.axle}
            </td>
            <td className="figures px-2 py-1.5">{row.vehicles}</td>
            <td className="px-2 py-1.5">
              <Jobs jobs={row.nearest ? [row.nearest] : []} all={1} />
            </td>
            <td className="px-2 py-1.5">
              {row.waiting ? (
                <Link className="underline" to="/specifications?view=to-release">
                  Release what waits
                </Link>
              ) : (
                <Link className="underline" to={`/specifications?view=library&model=${row.modelId}&axle=${row.axle}`}>
                  Enter it
                </Link>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </DataTable>
  );
}
