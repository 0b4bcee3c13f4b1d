import { memo, useMemo } from 'react';
import type { MileMark } from '@mile-mark/contract/forecasts';
import { marksByWeek, type RoadRow } from './lanes.ts';
import { PASSED_PX, type RoadScale } from './scale.ts';

export const LABEL_PX = 158;

/** Above the road: the calendar, and how many axles fall due each week. */
export const RoadHead = memo(function RoadHead({ scale, items, today }: Pick<Props, 'scale' | 'items' | 'today'>) {
  const weeks = Math.floor(scale.days / 7);
  const counts = useMemo(() => marksByWeek(items, today, weeks), [items, today, weeks]);
  const most = Math.max(1, ...counts.slice(1));
  const perWeek = (scale.width - PASSED_PX - 26) / (scale.days / 7);
  return (
    <div className="flex shrink-0 border-b border-line bg-ground">
      <div
        className="flex flex-col justify-end pb-1 pl-3 text-[11px] leading-tight text-soft"
        style={{ width: LABEL_PX }}
      >
        axles due, by week
        <span>most in a week: {most}</span>
      </div>
      <div className="relative h-14 overflow-hidden" style={{ width: scale.width }}>
        {(counts[0] ?? 0) > 0 && (
          <span className="figures absolute top-2 left-1 w-12 text-center text-[13px] leading-tight font-semibold text-brick">
            {counts[0]}
            <br />
            passed
          </span>
        )}
        {counts.slice(1).map((count, week) => {
          const height = (count / most) * 30;
          return count > 0 ? (
            <span
              key={week}
              title={`${count} in week ${week + 1} from today`}
              className="absolute bg-soft"
              style={{
                left: PASSED_PX + week * perWeek + 1,
                width: Math.max(2, perWeek - 2),
                height,
                top: 36 - height,
              }}
            />
          ) : null;
        })}
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
