import { type RefObject, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import { useMileMarks } from '../../../api/forecasts.ts';
import { useMe } from '../../../api/people.ts';
import {
  type DueWindow,
  NO_FILTER,
  type Reach,
  REACHES,
  readAheadView,
  useAheadView,
} from '../../../stores/aheadView.ts';
import { Button } from '../../../ui/Button.tsx';
import { Choose } from '../../../ui/Choose.tsx';
import { Field } from '../../../ui/Field.tsx';
import { SegmentedControl } from '../../../ui/SegmentedControl.tsx';
import { State } from '../../../ui/State.tsx';
import { useNarrow } from '../../../ui/useNarrow.ts';
import { Failed } from '../Failed.tsx';
import { Empty } from './Empty.tsx';
import { Legend } from './Legend.tsx';
import { AheadList } from './AheadList.tsx';
import { isForControl } from '../../../ui/typing.ts';
import { KitRow } from '../../parts/index.ts';
import { Road } from './Road.tsx';
import { LABEL_PX, RoadHead } from './RoadHead.tsx';
import { WhyPanel } from './WhyPanel.tsx';
import { roadScale } from './scale.ts';
import { isOf, useLanes } from './useLanes.ts';

const PANEL_PX = 348;

/** Ahead: what is coming, what must not run another week. */
export function Ahead() {
  const me = useMe();
  const marks = useMileMarks();
  const { depot, week, reach, set } = useAheadView();
  useState(readAheadView);
  const navigate = useNavigate();
  const width = useRoadWidth();
  const narrow = useNarrow();
  const [legend, setLegend] = useState(false);
  const findRef = useRef<HTMLDivElement>(null);
  const today = marks.data?.today ?? '2026-01-01';
  const { rows, shown, ofAnyWeek, chosen } = useLanes(marks.data?.items, today);
  const scale = useMemo(() => roadScale(today, reach, width), [today, reach, width]);
  const onSelect = useCallback((next: { unit: string; axle: number }) => set({ selected: next }), [set]);
  const onOpen = useCallback((unit: string) => void navigate(`/vehicles/${unit}`), [navigate]);
  useAheadKeys({ chosen, findRef });

  if (marks.isPending) return <State title="Loading the road" what="Fetching every axle’s mile mark." quiet />;
  if (marks.isLoadingError) {
    return (
      <State title="The mile marks couldn’t load" what={marks.error.message}>
        <Button onClick={() => void marks.refetch()}>Try again</Button>
      </State>
    );
  }
  const { items, refresh, riskTarget } = marks.data;
  if (items.length === 0) return <Empty {...refresh} />;
  const depots = [...new Set(items.map((item) => item.depot))].sort();
  if (narrow) return <AheadList {...{ depots, marks: shown, today, riskTarget, me, failed: refresh.failed }} />;
  return (
    <div className="wide-page flex h-full">
      <div className="flex min-w-0 flex-1 flex-col">
        <div className="flex shrink-0 items-center gap-2.5 px-3 py-1.5" ref={findRef}>
          <h1 className="sr-only">Ahead</h1>
          <Filters depots={depots} onEnter={() => chosen && onOpen(chosen.unit)} />
          <Button look="bare" onClick={() => setLegend(true)}>
            Legend
          </Button>
          {legend && <Legend onClose={() => setLegend(false)} />}
          {refresh.pending > 0 && (
            <span role="status" className="truncate text-soft">
              {refresh.pending} being recomputed …
            </span>
          )}
        </div>
        <Failed failed={refresh.failed} />
        <RoadHead scale={scale} items={ofAnyWeek} today={today} />
        {rows.length === 0 ? (
          <NoLane week={week} onAll={() => set(NO_FILTER)} />
        ) : (
          <Road
            rows={rows}
            items={shown}
            scale={scale}
            today={today}
            distanceUnit={me.distanceUnit}
            selected={chosen}
            onSelect={onSelect}
            onOpen={onOpen}
          />
        )}
        <KitRow x={scale.x} width={scale.width} labelPx={LABEL_PX} depot={depot} />
      </div>
      <aside
        aria-label="Why this date"
        className="shrink-0 border-l border-line bg-raised print:hidden"
        style={{ width: PANEL_PX }}
      >
        <WhyPanel mark={shown.find((one) => isOf(one, chosen))} me={me} today={today} riskTarget={riskTarget} />
      </aside>
    </div>
  );
}

function NoLane({ week, onAll }: { week: string; onAll: () => void }) {
  const window = week === '' ? 'this window' : 'this week';
  return (
    <State title="No lane passes the filter" what={`Nothing is due in ${window} for these depots and classes.`}>
      <Button onClick={onAll}>Show all</Button>
    </State>
  );
}

/** Which lanes are shown, and how far ahead. */
function Filters({ depots, onEnter }: { depots: readonly string[]; onEnter: () => void }) {
  const { depot, vehicleClass, due, find, reach, set } = useAheadView();
  return (
    <>
      <div className="w-24 shrink-0" data-find>
        <Field
          label="Find a unit"
          hideLabel
          placeholder="Find unit  /"
          value={find}
          onChange={(event) => set({ find: event.target.value })}
          onKeyDown={(event) => {
            if (event.key === 'Escape') set({ find: '' });
            if (event.key === 'Enter') onEnter();
          }}
        />
      </div>
      <Choose label="Depot" hideLabel value={depot} onChange={(event) => set({ depot: event.target.value })}>
        <option value="">All depots</option>
        {depots.map((name) => (
          <option key={name}>{name}</option>
        ))}
      </Choose>
      <Choose
        label="Class"
        hideLabel
        value={vehicleClass}
        onChange={(event) => set({ vehicleClass: event.target.value })}
      >
        <option value="">All classes</option>
        <option value="pickup">Pickups</option>
        <option value="van">Vans</option>
        <option value="heavy">Heavy trucks</option>
      </Choose>
      <SegmentedControl<DueWindow>
        label="Due"
        value={due}
        onChange={(value) => set({ due: value })}
        options={[
          { value: 'any', label: 'any' },
          { value: 'passed', label: 'passed' },
          { value: 'this week', label: '1 wk' },
          { value: '4 weeks', label: '4 wk' },
          { value: '3 months', label: '3 mo' },
        ]}
      />
      <SegmentedControl
        label="Months"
        value={String(reach)}
        onChange={(value) => set({ reach: Number(value) as Reach })}
        options={REACHES.map((months) => ({ value: String(months), label: String(months) }))}
      />
    </>
  );
}

interface Keys {
  chosen: { unit: string; axle: number } | undefined;
  findRef: RefObject<HTMLDivElement | null>;
}

/** Keys outside fields: / to find, m to measure, t for torques, [ and ] for how far ahead. */
function useAheadKeys({ chosen, findRef }: Keys): void {
  const me = useMe();
  const navigate = useNavigate();
  const { reach, set } = useAheadView();
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isForControl(event) || event.ctrlKey || event.metaKey) return;
      if (event.key === '/') {
        findRef.current?.querySelector('input')?.focus();
        event.preventDefault();
      } else if (event.key === 'm' && chosen && mayDo(me.role, 'measure')) void navigate(`/measure/${chosen.unit}`);
      else if (event.key === 't' && chosen)
        void navigate(`/specifications?unit=${encodeURIComponent(chosen.unit)}&axle=${chosen.axle}`);
      else if (event.key === '[' || event.key === ']') set({ reach: nextReach(reach, event.key === ']' ? 1 : -1) });
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [chosen, findRef, me.role, navigate, reach, set]);
}

function nextReach(reach: Reach, step: number): Reach {
  return REACHES[Math.min(REACHES.length - 1, Math.max(0, REACHES.indexOf(reach) + step))] ?? reach;
}

function useRoadWidth(): number {
  const [width, setWidth] = useState(() => roomFor(window.innerWidth));
  useEffect(() => {
    const update = () => setWidth(roomFor(window.innerWidth));
    window.addEventListener('resize', update);
    return () => window.removeEventListener('resize', update);
  }, []);
  return width;
}

const roomFor = (windowWidth: number): number => Math.max(360, windowWidth - PANEL_PX - LABEL_PX - 16);
