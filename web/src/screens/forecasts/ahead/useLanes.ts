import type { MileMark } from '@mile-mark/contract/forecasts';
import { useCallback, useMemo } from 'react';
import { useAheadView } from '../../../stores/aheadView.ts';
import { lanesOf, nearestAxle, rowsOf } from './lanes.ts';

interface OneAxle {
  unit: string;
  axle: number;
}

export const isOf = (mark: MileMark, chosen: OneAxle | undefined): boolean =>
  mark.unit === chosen?.unit && mark.axle === chosen.axle;

/**
 * What the road shows under the filter of the view.
 *
 * @returns rows of lanes and depots; marks shown; those the filter would show whatever the week; and the axle that is
 *   chosen, the nearest of the first lane where none shown is
 */
export function useLanes(items: readonly MileMark[] | undefined, today: string) {
  const { depot, vehicleClass, due, find, week, selected } = useAheadView();
  const lanesIn = useCallback(
    (of: string) => lanesOf(items ?? [], { depot, vehicleClass, due, find, week: of }, today),
    [items, depot, vehicleClass, due, find, today],
  );
  const lanes = useMemo(() => lanesIn(week), [lanesIn, week]);
  const ofAnyWeek = useMemo(() => lanesIn('').flatMap((lane) => lane.marks), [lanesIn]);
  const rows = useMemo(() => rowsOf(lanes, today), [lanes, today]);
  const shown = useMemo(() => lanes.flatMap((lane) => lane.marks), [lanes]);
  const chosen = useMemo((): OneAxle | undefined => {
    if (shown.some((one) => isOf(one, selected))) return selected;
    const first = rows.find((row) => row.kind === 'lane');
    return first?.kind === 'lane' ? { unit: first.lane.unit, axle: nearestAxle(first.lane) } : undefined;
  }, [rows, selected, shown]);
  return { rows, shown, ofAnyWeek, chosen };
}
