import { useEffect, useMemo, useRef, type KeyboardEvent } from 'react';
import type { Plan, PlanItem } from '@mile-mark/contract/plan';
import { isForControl } from '../../ui/typing.ts';
import { Chip } from './Chip.tsx';
import { groupBy, hours, mondayOf, shortDate, WEEKDAYS, weekdayOf } from './figures.ts';

/** A visit that is held over a day. */
export interface Held {
  item: PlanItem;
  date: string;
}

type Day = Plan['depots'][number]['days'][number];

interface Props {
  days: readonly Day[];
  items: readonly PlanItem[];
  today: string;
  /** Whether visits can be moved. */
  movable: boolean;
  /** Another plan is published. */
  replaces: boolean;
  chosen: string | undefined;
  held: Held | undefined;
  onChoose: (id: string) => void;
  onHold: (held: Held | undefined) => void;
  onDrop: (item: PlanItem, date: string) => void;
}

/** The weeks of a depot, a row each: the days on which the shop works, their hours, and the visits on them. */
export function Board({ days, items, ...rest }: Props) {
  const { held } = rest;
  const weeks = useMemo(() => weeksOf(days), [days]);
  const columns = useMemo(() => [...new Set(days.map(({ date }) => weekdayOf(date)))].sort(), [days]);
  const byDay = useMemo(() => groupBy(items, ({ date }) => date), [items]);
  const board = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (held) board.current?.querySelector(`[data-day="${held.date}"]`)?.scrollIntoView({ block: 'nearest' });
  }, [held]);
  if (days.length === 0) return <p className="p-4 text-soft">This depot has no days in this plan.</p>;
  return (
    <div
      ref={board}
      className="min-h-0 overflow-auto border border-line bg-sheet"
      role="group"
      aria-label="The weeks"
      tabIndex={-1}
    >
      <table className="w-full table-fixed border-collapse text-left">
        <thead className="sticky top-0 z-10 bg-sheet">
          <tr className="border-b border-line text-soft">
            <th scope="col" className="w-20 px-2 py-1 font-medium">
              Week of
            </th>
            {columns.map((day) => (
              <th key={day} scope="col" className="px-2 py-1 font-medium">
                {WEEKDAYS[day]}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {weeks.map(({ monday, own }) => (
            <tr key={monday} className="border-b border-hair align-top">
              <th scope="row" className="figures px-2 py-1 text-left font-medium whitespace-nowrap text-soft">
                {shortDate(monday)}
              </th>
              {columns.map((column) => {
                const day = own.find(({ date }) => weekdayOf(date) === column);
                if (!day) return <td key={column} className="bg-ground/60" />;
                return <DayCell key={column} day={day} days={days} items={byDay.get(day.date) ?? []} {...rest} />;
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** A day with its visits; one that is held is dropped on it. */
function DayCell({ day, items, today, held, onHold, onDrop, ...rest }: Props & { day: Day }) {
  const over = held?.date === day.date;
  return (
    <td
      data-day={day.date}
      className={`border-l border-hair px-1.5 py-1 ${over ? 'bg-raised outline-3 -outline-offset-3 outline-ink' : ''}`}
      onDragOver={(event) => {
        if (!held) return;
        event.preventDefault();
        if (held.date !== day.date) onHold({ ...held, date: day.date });
      }}
      onDrop={(event) => {
        event.preventDefault();
        // Onto the day whose cost is told, should the board have moved under the pointer since.
        if (held) onDrop(held.item, held.date);
      }}
    >
      <DayHead day={day} today={today} />
      <ul className="flex flex-col gap-0.5">
        {items.map((item) => (
          <li key={item.id}>
            <Chip
              item={item}
              chosen={item.id === rest.chosen}
              held={held?.item.id === item.id}
              movable={rest.movable}
              replaces={rest.replaces}
              onChoose={() => rest.onChoose(item.id)}
              onKey={(event) => moveByKey(event, item, { held, onHold, onDrop, ...rest })}
              onDragStart={() => onHold({ item, date: item.date })}
              onDragEnd={() => onHold(undefined)}
            />
          </li>
        ))}
      </ul>
    </td>
  );
}

type Moves = Pick<Props, 'days' | 'movable' | 'held' | 'onHold' | 'onDrop'>;

/** M takes a visit, the arrows carry it, Enter leaves it there, Escape where it was. */
function moveByKey(event: KeyboardEvent, item: PlanItem, { days, movable, held, onHold, onDrop }: Moves): void {
  if (!held) {
    if (event.key.toLowerCase() === 'm' && movable && !isForControl(event.nativeEvent))
      onHold({ item, date: item.date });
    return;
  }
  const at = days.findIndex(({ date }) => date === held.date);
  const to = targetOf(event.key, at, days);
  if (to !== undefined) onHold({ ...held, date: to });
  else if (event.key === 'Enter') onDrop(held.item, held.date);
  else if (event.key === 'Escape') onHold(undefined);
  else return;
  event.preventDefault();
  event.stopPropagation();
}

/** Date, hours asked against hours there: a bar and the figures. */
function DayHead({ day: { date, asked, there, overtime }, today }: { day: Day; today: string }) {
  const share = there > 0 ? Math.min(1, asked / there) : asked > 0 ? 1 : 0;
  return (
    <p className="mb-0.5 flex items-baseline gap-2 text-[12px] text-soft">
      <span className={`figures ${date === today ? 'font-semibold text-ink' : ''}`}>
        {date === today ? 'today' : shortDate(date)}
      </span>
      <span aria-hidden className="relative h-1.5 min-w-6 flex-1 self-center bg-hair">
        <span
          className={`absolute inset-y-0 left-0 ${overtime > 0 ? 'bg-brick' : 'bg-slate'}`}
          style={{ width: `${100 * share}%` }}
        />
      </span>
      <span className={`figures whitespace-nowrap ${overtime > 0 ? 'font-semibold text-brick' : ''}`}>
        {asked > 0 ? `${hours(asked)} of ${hours(there)} h` : `${hours(there)} h`}
        {overtime > 0 && `, ${hours(overtime)} over`}
      </span>
    </p>
  );
}

function weeksOf(days: readonly Day[]): { monday: string; own: Day[] }[] {
  return [...groupBy(days, ({ date }) => mondayOf(date))].map(([monday, own]) => ({ monday, own }));
}

/** The day that an arrow leads to: a day on or back, a week down or up; undefined for other keys. */
function targetOf(key: string, at: number, days: readonly Day[]): string | undefined {
  const here = days[at]?.date;
  if (here === undefined) return undefined;
  if (key === 'ArrowRight') return days[Math.min(days.length - 1, at + 1)]?.date;
  if (key === 'ArrowLeft') return days[Math.max(0, at - 1)]?.date;
  const weekday = weekdayOf(here);
  if (key === 'ArrowDown')
    return (
      days.find(({ date }, i) => i > at && mondayOf(date) > mondayOf(here) && weekdayOf(date) >= weekday) ?? days.at(-1)
    )?.date;
  if (key === 'ArrowUp')
    return (
      days.findLast(({ date }, i) => i < at && mondayOf(date) < mondayOf(here) && weekdayOf(date) <= weekday) ?? days[0]
    )?.date;
  return undefined;
}
