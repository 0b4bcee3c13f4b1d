import { Lock } from 'lucide-react';
import type { KeyboardEvent } from 'react';
import type { PlanItem } from '@mile-mark/contract/plan';
import { formatDate } from '../../ui/format.ts';
import { axlesInWords, hours } from './figures.ts';

interface Props {
  item: PlanItem;
  chosen: boolean;
  held: boolean;
  movable: boolean;
  /** Another plan is published: what is new is told. */
  replaces: boolean;
  onChoose: () => void;
  onKey: (event: KeyboardEvent) => void;
  onDragStart: () => void;
  onDragEnd: () => void;
}

/** A visit on its day: unit, axles, whether it is booked, locked, new or moved; said in full to a screen reader. */
export function Chip({ item, chosen, held, movable, replaces, onChoose, onKey, onDragStart, onDragEnd }: Props) {
  const { unit, axles, jobId, locked, moved, fresh, outside, lentFrom } = item;
  const booked = jobId !== null;
  const said = [
    `${unit}, ${axlesInWords(axles)}`,
    formatDate(item.date),
    outside ? 'outside shop' : (item.bay ?? ''),
    `${hours(item.hours)} hours`,
    booked ? 'booked' : 'planned',
    lentFrom === null ? '' : `of ${lentFrom}`,
    locked ? 'locked' : '',
    moved === null ? '' : `moved from ${formatDate(moved)}`,
  ];
  return (
    <button
      type="button"
      data-visit={`${unit}/${axles.join(' ')}`}
      aria-pressed={chosen}
      aria-label={said.filter((part) => part !== '').join(', ')}
      draggable={movable}
      onClick={onChoose}
      onFocus={onChoose}
      onKeyDown={onKey}
      onDragStart={(event) => {
        event.dataTransfer.effectAllowed = 'move';
        event.dataTransfer.setData('text/plain', unit);
        onDragStart();
      }}
      onDragEnd={onDragEnd}
      className={`flex w-full items-center gap-1 rounded-sm border px-1.5 py-0.5 text-left leading-5 touch:min-h-11 ${
        booked ? 'border-ink bg-ink text-sheet' : 'border-slate bg-raised'
      } ${chosen ? 'outline-2 outline-offset-1 outline-ink' : ''} ${held ? 'border-dashed outline-2 outline-offset-1 outline-slate' : ''} ${movable ? 'cursor-grab' : ''}`}
    >
      <span className="figures text-[15px] font-semibold">{unit}</span>
      <span className={`figures ${booked ? '' : 'text-soft'}`}>{axles.join('·')}</span>
      <span className="ml-auto flex items-center gap-1 text-[12px]">
        {lentFrom !== null && <span>lent</span>}
        {moved !== null && <span>moved</span>}
        {fresh && replaces && !booked && <span>new</span>}
        {outside && <span>outside</span>}
        {locked && <Lock aria-hidden size={12} />}
      </span>
    </button>
  );
}
