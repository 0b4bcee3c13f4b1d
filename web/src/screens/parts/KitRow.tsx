import { Link } from 'react-router';
import type { KitWeeks } from '@mile-mark/contract/parts';
import { countInWords } from '@mile-mark/contract/words';
import { useKitWeeks, usePartsDay } from '../../api/parts.ts';
import { formatDate } from '../../ui/format.ts';

interface Props {
  /** Where a day stands along the road, px. */
  x: (date: string) => number;
  width: number;
  labelPx: number;
  /** Depot that is shown; blank for all. */
  depot: string;
}

const PLATE_PX = 26;

/** Under the road: one plate a week in which kits will be short, and what is to be ordered today. */
export function KitRow({ x, width, labelPx, depot }: Props) {
  const weeks = useKitWeeks();
  const day = usePartsDay(depot);
  const own = (weeks.data ?? []).filter((one) => depot === '' || one.depot === depot);
  const { today = '', proposals = [] } = day.data ?? {};
  const due = proposals.filter(({ latest }) => latest !== null && latest <= today);
  const plates = platesOf(
    own.filter(({ short }) => short > 0),
    (week) => Math.max(0, x(week < today ? today : week)),
  );
  if (plates.length === 0 && due.length === 0) return null;
  return (
    <div className="flex shrink-0 border-t border-line bg-ground">
      <div
        className="flex flex-col justify-center py-1 pl-3 text-[11px] leading-tight text-soft"
        style={{ width: labelPx }}
      >
        kits short, by week
        {due.length > 0 && (
          <Link className="font-semibold text-brick underline" to="/parts?view=orders">
            {countInWords(
              due.reduce((sum, { lines }) => sum + lines, 0),
              'part',
            )}{' '}
            to order today
          </Link>
        )}
      </div>
      <div className="relative h-9 overflow-hidden" style={{ width }}>
        {plates.map(({ left, weeks: all }) => (
          <Link
            key={left}
            to="/parts"
            title={toldOf(all)}
            aria-label={toldOf(all)}
            className="figures absolute top-1.5 flex h-6 items-center justify-center border-2 border-brick text-[13px] font-semibold text-brick"
            style={{ left, width: PLATE_PX }}
          >
            {all.reduce((sum, { short }) => sum + short, 0)}
          </Link>
        ))}
      </div>
    </div>
  );
}

/** Weeks too near to each other for a plate each share one. */
function platesOf(weeks: readonly KitWeeks[], at: (week: string) => number): { left: number; weeks: KitWeeks[] }[] {
  const plates: { left: number; weeks: KitWeeks[] }[] = [];
  for (const one of [...weeks].sort((a, b) => (a.week < b.week ? -1 : 1))) {
    const last = plates.at(-1);
    const left = at(one.week);
    if (last && left < last.left + PLATE_PX + 2) last.weeks.push(one);
    else plates.push({ left, weeks: [one] });
  }
  return plates;
}

function toldOf(all: readonly KitWeeks[]): string {
  const parts = all.flatMap((one) => one.parts);
  const weeks = all.map(({ week, units }) => `week of ${formatDate(week)}: ${units.join(', ')}`);
  const out =
    parts.length === 0
      ? ''
      : `; may run out before an order comes: ${parts.slice(0, 4).join(', ')}${parts.length > 4 ? ` and ${parts.length - 4} more` : ''}`;
  return `Kits short, ${weeks.join('; ')}${out}`;
}
