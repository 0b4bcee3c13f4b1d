import { milesInWords } from '@mile-mark/contract/words';
import { useVirtualizer } from '@tanstack/react-virtual';
import { type KeyboardEvent, memo, useEffect, useMemo, useRef } from 'react';
import type { JobRow } from '@mile-mark/contract/jobs';
import type { PlannedVisit } from '@mile-mark/contract/plan';
import { useChanges } from '../../../api/forecasts.ts';
import { useDefects, useJobs } from '../../../api/jobs.ts';
import { usePlannedVisits } from '../../../api/plan.ts';
import { useCoverage } from '../../../api/specifications.ts';
import { formatWhole } from '../../../ui/format.ts';
import { usePrinting } from '../../../ui/usePrinting.ts';
import { JobBracket, PlannedBracket } from './JobBracket.tsx';
import { LANE_PX, Post, POST_WIDTH } from './Post.tsx';
import { LABEL_PX, type Props } from './RoadHead.tsx';
import { defectSignsOf, fannedOut, jobSignsOf, type Lane, nearestAxle, type RoadRow, signsOf } from './lanes.ts';
import { PASSED_PX, type RoadScale } from './scale.ts';

const DEPOT_PX = 28;

/** The road: a lane a vehicle, time to the right, a post at each axle's mile mark. Only what is seen is drawn. */
export function Road({ rows, items, scale, today, distanceUnit, selected, onSelect, onOpen }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const printing = usePrinting();
  const { data: changes } = useChanges();
  const { data: coverage } = useCoverage();
  const { data: defects } = useDefects();
  const { data: booked } = useJobs({ state: 'open' });
  const jobOf = useMemo(() => new Map((booked ?? []).map((job) => [job.unit, job])), [booked]);
  const { data: planned } = usePlannedVisits();
  const plannedOf = useMemo(() => {
    const byUnit = new Map<string, PlannedVisit[]>();
    for (const one of planned ?? []) byUnit.set(one.unit, [...(byUnit.get(one.unit) ?? []), one]);
    return byUnit;
  }, [planned]);
  const signs = useMemo(() => {
    const { forbids, recheck } = defectSignsOf(defects ?? []);
    const undoable = coverage ? jobSignsOf(items, coverage, today) : [];
    return new Map([...recheck, ...undoable, ...signsOf(changes ?? []), ...forbids]);
  }, [changes, coverage, defects, items, today]);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: (index) => (rows[index]?.kind === 'depot' ? DEPOT_PX : LANE_PX),
    overscan: printing ? rows.length : 6,
  });
  const selectedIndex = rows.findIndex((row) => row.kind === 'lane' && row.lane.unit === selected?.unit);
  useEffect(() => {
    if (selectedIndex >= 0) virtual.scrollToIndex(selectedIndex, { align: 'auto' });
  }, [selectedIndex, virtual]);

  const onKeyDown = (event: KeyboardEvent) => {
    const step =
      event.key === 'ArrowDown' || event.key === 'j' ? 1 : event.key === 'ArrowUp' || event.key === 'k' ? -1 : 0;
    if (step !== 0) {
      const next = neighbour(rows, selectedIndex, step);
      if (next) onSelect({ unit: next.unit, axle: nearestAxle(next) });
      event.preventDefault();
      return;
    }
    const row = rows[selectedIndex];
    if (row?.kind !== 'lane' || !selected) return;
    if (event.key === 'ArrowRight' || event.key === 'ArrowLeft') {
      const axles = row.lane.marks.map(({ axle }) => axle);
      const at = axles.indexOf(selected.axle) + (event.key === 'ArrowRight' ? 1 : -1);
      const axle = axles[(at + axles.length) % axles.length];
      if (axle !== undefined) onSelect({ unit: selected.unit, axle });
      event.preventDefault();
    } else if (event.key === 'Enter') onOpen(selected.unit);
  };

  return (
    <div
      ref={scroller}
      role="group"
      aria-label="Lanes, nearest mile mark first"
      tabIndex={0}
      onKeyDown={onKeyDown}
      className="relative min-h-0 flex-1 overflow-y-auto bg-sheet focus-visible:outline-offset-[-2px]"
    >
      <div style={{ height: virtual.getTotalSize() }} className="relative">
        <Verges scale={scale} />
        {virtual.getVirtualItems().map((item) => {
          const row = rows[item.index];
          if (!row) return null;
          return row.kind === 'depot' ? (
            <DepotRow key={item.key} row={row} start={item.start} />
          ) : (
            <LaneRow
              key={item.key}
              lane={row.lane}
              start={item.start}
              sign={signs.get(row.lane.unit)}
              job={jobOf.get(row.lane.unit)}
              planned={plannedOf.get(row.lane.unit)}
              selectedAxle={selected?.unit === row.lane.unit ? selected.axle : undefined}
              {...{ scale, today, distanceUnit, onSelect, onOpen }}
            />
          );
        })}
      </div>
    </div>
  );
}

function DepotRow({ row, start }: { row: Extract<RoadRow, { kind: 'depot' }>; start: number }) {
  return (
    <div
      style={{ transform: `translateY(${start}px)`, height: DEPOT_PX }}
      className="absolute inset-x-0 flex items-center gap-3 border-b border-line bg-ground px-3"
    >
      <span className="font-semibold">{row.depot}</span>
      <span className="text-soft">
        {formatWhole(row.lanes)} {row.lanes === 1 ? 'vehicle' : 'vehicles'}
        {row.due > 0 && `, ${row.due} ${row.due === 1 ? 'axle' : 'axles'} within four weeks or passed`}
      </span>
    </div>
  );
}

function neighbour(rows: readonly RoadRow[], from: number, step: number): Lane | undefined {
  for (let i = from + step; i >= 0 && i < rows.length; i += step) {
    const row = rows[i];
    if (row?.kind === 'lane') return row.lane;
  }
  return undefined;
}

interface LaneProps extends Pick<Props, 'scale' | 'today' | 'distanceUnit' | 'onSelect' | 'onOpen'> {
  lane: Lane;
  start: number;
  selectedAxle: number | undefined;
  /** What is the matter with it, in two words. */
  sign: string | undefined;
  /** Its open job. */
  job: JobRow | undefined;
  /** Its visits in the published plan that are no jobs yet. */
  planned: readonly PlannedVisit[] | undefined;
}

/** One vehicle's lane; drawn again only when something of its own changes, so that scrolling stays light. */
const LaneRow = memo(function LaneRow({
  lane,
  start,
  scale,
  today,
  distanceUnit,
  selectedAxle,
  sign,
  job,
  planned,
  onSelect,
  onOpen,
}: LaneProps) {
  const chosen = selectedAxle !== undefined;
  const dates = lane.marks.map(({ markDate }) => scale.x(markDate));
  const places = fannedOut(dates, POST_WIDTH + 2, scale.width - 18);
  return (
    <div
      role="group"
      aria-label={lane.unit}
      style={{ transform: `translateY(${start}px)`, height: LANE_PX }}
      className={`absolute inset-x-0 flex border-b border-hair ${chosen ? 'bg-raised/70' : ''}`}
    >
      <button
        tabIndex={-1}
        onClick={() => onSelect({ unit: lane.unit, axle: nearestAxle(lane) })}
        onDoubleClick={() => onOpen(lane.unit)}
        className={`flex shrink-0 flex-col justify-center border-l-4 pl-2 text-left leading-tight ${chosen ? 'border-ink' : 'border-transparent'}`}
        style={{ width: LABEL_PX }}
      >
        <span className="figures text-[15px] font-semibold">
          {lane.unit}{' '}
          <span className="ml-1 font-medium text-soft">{milesInWords(lane.odometerNowMi, distanceUnit)}</span>
        </span>
        <span className={`w-full truncate text-[11px] ${sign ? 'font-semibold text-brick' : 'text-soft'}`}>
          {sign ?? lane.model}
        </span>
      </button>
      <div className="relative" style={{ width: scale.width }}>
        {job && <JobBracket job={job} scale={scale} today={today} />}
        {planned?.map((visit) =>
          scale.x(visit.date) < scale.width ? (
            <PlannedBracket key={`${visit.date}/${visit.axles.join(' ')}`} visit={visit} scale={scale} />
          ) : null,
        )}
        {lane.marks.map((mark, index) => (
          <Post
            key={mark.axle}
            mark={mark}
            standsAt={places[index] ?? 0}
            scale={scale}
            today={today}
            selected={selectedAxle === mark.axle}
            onSelect={onSelect}
          />
        ))}
      </div>
    </div>
  );
});

/** What is passed, today's line and the months, once behind all lanes. */
const Verges = memo(function Verges({ scale }: { scale: RoadScale }) {
  return (
    <div aria-hidden className="absolute inset-y-0" style={{ left: LABEL_PX, width: scale.width }}>
      <span className="absolute inset-y-0 left-0 bg-hair/60" style={{ width: PASSED_PX }} />
      <span className="absolute inset-y-0 w-[2px] bg-ink" style={{ left: PASSED_PX - 1 }} />
      {scale.months.map(({ x }) => (
        <span key={x} className="absolute inset-y-0 w-px bg-hair" style={{ left: x }} />
      ))}
    </div>
  );
});
