/** What a trial fleet teaches of its technicians and of seized slides, against its truth. */
import path from 'node:path';
import { dateOfDay, dayNumber, runWithChanges, type VehicleInput, type WearChange } from '@mile-mark/core';
import { asItStood, AXLES, csv, originOf, withDutyAhead, type TrialFleet } from './trialFleet.ts';

/** Root of the mean square by which technicians' biases were learnt wrong, mm. */
export function biasErrorMm(folder: string, { vehicles, learnt }: TrialFleet): { technicians: number; rmseMm: number } {
  const [first] = vehicles;
  if (!first) return { technicians: 0, rmseMm: NaN };
  const { appraisers } = learnt(first.input, first.groups, first.heavy);
  const errors = csv(path.join(folder, 'truth'), 'technicians').flatMap(({ technician = '', bias_mm }) => {
    const known = appraisers[technician];
    return known ? [known.biasMm - Number(bias_mm)] : [];
  });
  const square = errors.reduce((sum, error) => sum + error ** 2, 0) / errors.length;
  return { technicians: errors.length, rmseMm: Math.sqrt(square) };
}

interface Seized {
  axle: number;
  side: string;
  from: string;
}

/** Slides that seized and had three looks before new pads, how many were told by the third, and how often falsely. */
export interface SlidesTold {
  slides: number;
  byThird: number;
  falsely: number;
  wheelEndLooks: number;
}

/** Goes through every look of a fleet as it stood on its day. */
export function slidesTold(folder: string, fleet: TrialFleet): SlidesTold {
  const origin = originOf(folder);
  const seized = csv(path.join(folder, 'truth'), 'seized');
  const told: SlidesTold = { slides: 0, byThird: 0, falsely: 0, wheelEndLooks: 0 };
  for (const { id, input, groups, heavy } of fleet.papers) {
    const own = seized
      .filter(({ vehicle }) => vehicle === id)
      .map(({ axle = '', side = '', onset_day }): Seized => ({
        axle: AXLES[axle] ?? 0,
        side,
        from: dateOfDay(origin + Math.floor(Number(onset_day))),
      }));
    const first = new Map<Seized, string>();
    const falsely = new Set<string>();
    for (const date of datesOf(input)) {
      const then = asItStood(input, date);
      told.wheelEndLooks += new Set(
        then.readings.filter((one) => one.date === date).map(({ axle, side }) => `${axle} ${side}`),
      ).size;
      // Before its first block there is no duty to go by.
      if (then.duty.length === 0) continue;
      const known = fleet.learnt(withDutyAhead(then, fleet.processOf(heavy)), groups, heavy);
      for (const change of runWithChanges(known).changes.filter(({ kind }) => kind === 'apart')) {
        const hit = own.find((one) => isOf(change, one) && date >= one.from);
        if (hit) first.set(hit, first.get(hit) ?? date);
        else falsely.add(`${change.axle ?? 0} ${change.side ?? ''} ${change.more ?? ''}`);
      }
    }
    told.falsely += falsely.size;
    for (const one of own) {
      const third = looksBeforeNewPads(input, one)[2];
      if (third === undefined) continue;
      told.slides += 1;
      if ((first.get(one) ?? '9') <= third) told.byThird += 1;
    }
  }
  return told;
}

const datesOf = ({ readings }: VehicleInput): string[] => [...new Set(readings.map(({ date }) => date))].sort();
const isOf = (change: WearChange, { axle, side }: Seized) =>
  change.axle === axle && change.side === side && change.more === 'inner';

/** Days on which a seized wheel was looked at before its pads were changed. */
function looksBeforeNewPads(input: VehicleInput, { axle, side, from }: Seized): string[] {
  const until = input.fittings
    .filter((one) => one.axle === axle && dayNumber(one.date) > dayNumber(from))
    .map(({ date }) => date)
    .sort()[0];
  return datesOf({ ...input, readings: input.readings.filter((one) => one.axle === axle && one.side === side) }).filter(
    (date) => date > from && (until === undefined || date <= until),
  );
}
