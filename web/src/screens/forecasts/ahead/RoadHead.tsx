import { memo, useMemo } from 'react';
import type { MileMark } from '@mile-mark/contract/forecasts';
import { dateOfDay, dayNumber } from '@mile-mark/core';
import { useAheadView } from '../../../stores/aheadView.ts';
import { Button } from '../../../ui/Button.tsx';
import { formatDate } from '../../../ui/format.ts';
import { marksByWeek, type RoadRow } from './lanes.ts';
import { PASSED_PX, type RoadScale } from './scale.ts';

export const LABEL_PX = 158;

interface HeadProps extends Pick<Props, 'scale' | 'today'> {
  /** The marks of every week, also where one is shown alone: the bars are what another week is chosen by. */
  items: MileMark[];
}

/** Above the road, and there where no lane is: the calendar, and how many axles fall due each week. */
export const RoadHead = memo(function RoadHead({ scale, items, today }: HeadProps) {
  const weeks = Math.floor(scale.days / 7);
  const counts = useMemo(() => marksByWeek(items, today, weeks), [items, today, weeks]);
  const most = Math.max(1, ...counts.slice(1));
  const { week: chosenWeek, due, set } = useAheadView();
  const firstDay = (week: number) => dateOfDay(dayNumber(today) + 7 * week);
  const told = (count: number, week: number) =>
    `${count} ${count === 1 ? 'axle' : 'axles'} due in the week from ${formatDate(firstDay(week))}`;
  const chosen = chosenWeek === '' ? -1 : Math.floor((dayNumber(chosenWeek) - dayNumber(today)) / 7);
  const choose = (week: number) => set({ week: week < 0 ? '' : firstDay(week) });
  const perWeek = (scale.width - PASSED_PX - 26) / (scale.days / 7);
  return (
    <div className="flex shrink-0 border-b border-line bg-ground">
      <div
        className="flex flex-col justify-end pb-1 pl-3 text-[11px] leading-tight text-soft"
        style={{ width: LABEL_PX }}
      >
        <ShownWeek />
        axles due, by week
        {chosenWeek === '' && <span>most in a week: {most}</span>}
      </div>
      <div className="relative h-14 overflow-hidden" style={{ width: scale.width }}>
        {(counts[0] ?? 0) > 0 && (
          <button
            type="button"
            aria-pressed={due === 'passed'}
            onClick={() => set({ due: due === 'passed' ? 'any' : 'passed' })}
            className="figures absolute top-1 left-1 w-12 py-1 text-center text-[13px] leading-tight font-semibold text-brick hover:underline aria-pressed:underline"
          >
            {counts[0]}
            <br />
            passed
          </button>
        )}
        <div
          role="slider"
          tabIndex={0}
          aria-label="Week shown alone"
          aria-valuemin={0}
          aria-valuemax={weeks}
          aria-valuenow={chosen + 1}
          aria-valuetext={chosen < 0 ? 'all weeks' : told(counts[chosen + 1] ?? 0, chosen)}
          title="Choose a bar to see its week alone"
          onClick={({ clientX, currentTarget }) => {
            const at = Math.floor((clientX - currentTarget.getBoundingClientRect().left) / perWeek);
            choose(at === chosen ? -1 : at);
          }}
          onKeyDown={({ key }) => {
            const step = { ArrowRight: 1, ArrowLeft: -1 }[key] ?? 0;
            if (step !== 0) choose(Math.min(weeks - 1, Math.max(-1, chosen + step)));
            else if (key === 'Escape') choose(-1);
          }}
          className="absolute top-0 h-9 cursor-pointer"
          style={{ left: PASSED_PX, width: weeks * perWeek }}
        >
          {counts.slice(1).map((count, week) => (
            <span
              key={week}
              aria-hidden
              className={`absolute bottom-0 ${chosen === week ? 'bg-ink' : 'bg-soft'}`}
              style={{
                left: week * perWeek + 1,
                width: Math.max(2, perWeek - 2),
                // The chosen week is marked also where nothing is due.
                height: Math.max(chosen === week ? 3 : 0, (count / most) * 30),
              }}
            />
          ))}
        </div>
        <span className="figures absolute bottom-0 text-[12px] font-semibold" style={{ left: PASSED_PX + 3 }}>
          today
        </span>
        {scale.months
          .filter(({ x }) => x > PASSED_PX + 40)
          .map(({ x, label }) => (
            <span
              key={x}
              className="figures absolute bottom-0 border-l border-line pl-1 text-[12px] text-soft"
              style={{ left: x }}
            >
              {label}
            </span>
          ))}
      </div>
    </div>
  );
});

/** Which week is shown alone, and the way back to all; nothing where all are shown. */
export function ShownWeek({ large = false }: { large?: boolean }) {
  const { week, set } = useAheadView();
  if (week === '') return null;
  return (
    <Button
      large={large}
      onClick={() => set({ week: '' })}
      className={`mb-1 whitespace-nowrap ${large ? '' : 'self-start px-1.5! py-0.5! text-[13px]'}`}
    >
      week from {formatDate(week)} <span aria-label="show all weeks">×</span>
    </Button>
  );
}

export interface Props {
  rows: RoadRow[];
  items: MileMark[];
  scale: RoadScale;
  today: string;
  distanceUnit: 'mi' | 'km';
  selected: { unit: string; axle: number } | undefined;
  onSelect: (selected: { unit: string; axle: number }) => void;
  onOpen: (unit: string) => void;
}
