import { addMonths, format, parseISO } from 'date-fns';
import { daysBetween } from '../../../ui/format.ts';

/** Width kept at the left for what is passed already. */
export const PASSED_PX = 56;

export interface RoadScale {
  width: number;
  days: number;
  /** Pixels from the road's left edge; what is passed or beyond is held at the edges. */
  x: (date: string) => number;
  months: { x: number; label: string }[];
}

/** A month with its year needs so much. */
const LABEL_PX = 52;

function labelOf(isJanuary: boolean, isFirst: boolean, isNarrow: boolean): string {
  if (isNarrow) return isJanuary ? 'yyyy' : 'MMM';
  return isJanuary || isFirst ? 'MMM yyyy' : 'MMM';
}

/** Time along the road: today at the end of the passed stretch, then so many months. */
export function roadScale(today: string, months: number, width: number): RoadScale {
  const end = format(addMonths(parseISO(today), months), 'yyyy-MM-dd');
  const days = daysBetween(today, end);
  const perDay = (width - PASSED_PX - 26) / days;
  const x = (date: string) => {
    const away = daysBetween(today, date);
    if (away < 0) return Math.max(8, PASSED_PX - 10 - Math.min(1, -away / 120) * (PASSED_PX - 22));
    return Math.min(width - 18, PASSED_PX + away * perDay);
  };
  const first = parseISO(`${today.slice(0, 7)}-01`);
  const step = months > 12 ? 2 : 1;
  // Where a year does not fit beside the month, January is told by its year.
  const isNarrow = perDay * 30 * step < LABEL_PX;
  const ticks: RoadScale['months'] = [];
  for (let i = 1; i <= months; i += step) {
    const month = addMonths(first, i);
    ticks.push({
      x: x(format(month, 'yyyy-MM-dd')),
      label: format(month, labelOf(month.getMonth() === 0, i === 1, isNarrow)),
    });
  }
  return { width, days, x, months: ticks };
}
