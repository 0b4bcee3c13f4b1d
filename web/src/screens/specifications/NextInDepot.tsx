import { awayInWords } from '@mile-mark/contract/words';
import { useDepots } from '../../api/register.ts';
import type { BenchState } from '../../stores/bench.ts';
import { Choose } from '../../ui/Choose.tsx';
import { daysBetween } from '../../ui/format.ts';

/** Vehicles named before anything is typed. */
const NEXT_NAMED = 12;

/** Before anything is typed: whose job comes next in this depot. */
export function NextInDepot({
  state,
  depot,
  onDepot,
  today,
  onOpen,
}: DeskProps & { today: string; onOpen: (unit: string, axle?: number) => void }) {
  const depots = useDepots();
  const vehicles = state.depots.flatMap((one) => one.vehicles);
  const next = vehicles
    .flatMap((one) => (one.next ? [{ unit: one.unit, ...one.next }] : []))
    .sort((a, b) => a.markDate.localeCompare(b.markDate))
    .slice(0, NEXT_NAMED);
  return (
    <div className="flex max-w-4xl flex-col gap-3">
      <p className="max-w-prose text-base text-soft">
        Type a unit number, its axle after it if you like, and press Enter; or scan the vehicle’s label.{' '}
        {vehicles.length} vehicles of {state.depots.map(({ depot }) => depot).join(', ')} are kept on this device and
        open without a network.
      </p>
      <div className="flex flex-wrap items-end justify-between gap-3">
        <h2 className="text-xl font-semibold">Next in this depot</h2>
        {!state.kept && (
          <Choose
            label="Depot"
            hideLabel
            large
            aria-label="Depot"
            value={depot}
            onChange={(event) => onDepot(event.target.value)}
          >
            <option value="">All depots</option>
            {depots.data?.map(({ name }) => (
              <option key={name}>{name}</option>
            ))}
          </Choose>
        )}
      </div>
      <ul className="grid grid-cols-2 gap-2 sm:grid-cols-3 lg:grid-cols-4">
        {next.map(({ unit, axle, markDate }) => {
          const days = daysBetween(today, markDate);
          return (
            <li key={unit}>
              <button
                type="button"
                onClick={() => onOpen(unit, axle)}
                className="min-h-14 w-full rounded border border-line bg-raised px-3 py-1 text-left hover:border-ink"
              >
                <span className="figures text-xl font-semibold">{unit}</span> axle {axle}
                <span className="block text-[13px] text-soft">
                  mark {days < 0 ? `passed ${awayInWords(days)}` : awayInWords(days)}
                </span>
              </button>
            </li>
          );
        })}
      </ul>
      {next.length === 0 && <p className="text-soft">No mile mark is known yet.</p>}
    </div>
  );
}

export interface DeskProps {
  state: BenchState;
  depot: string;
  onDepot: (depot: string) => void;
}
