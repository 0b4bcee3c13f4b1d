import { addDays, format, parseISO } from 'date-fns';
import { daysBetween } from '../../ui/format.ts';

/** No later than so many days on is proposed by itself. */
const FAR_DAYS = 14;
const [SUNDAY, SATURDAY] = [0, 6];

/**
 * A day to begin with: the last working day before the mark, within two weeks and not today; where there is none, or the
 * mark has passed, the next working day.
 */
export function firstDay(today: string, mark: string): string {
  const ahead = Math.min(FAR_DAYS, daysBetween(today, mark) - 1);
  const onDay = (days: number) => addDays(parseISO(today), days);
  const works = (days: number) => ![SUNDAY, SATURDAY].includes(onDay(days).getDay());
  let days = ahead;
  while (days > 0 && !works(days)) days -= 1;
  if (days < 1) for (days = 1; !works(days);) days += 1;
  return format(onDay(days), 'yyyy-MM-dd');
}
