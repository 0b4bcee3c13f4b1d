import { ValidationEntity } from '../entities.ts';
import type { Validation } from '@mile-mark/contract/forecasts';
import {
  type BacktestedReading,
  type BacktestSummary,
  checkedLooks,
  dayNumber,
  quarterOf,
  type Residual,
  strainsOf,
  summariseBacktest,
  type VehicleInput,
} from '@mile-mark/core';
import { inTurns } from '../../../platform/inTurns.ts';
import { vehicleInputOf } from '../input.ts';
import { loadForecastContext } from '../queries/context.ts';
import type { VehicleRecord } from '../record.ts';
import { askedOrKept } from './keptAnswers.ts';
import type { Fleet } from './learnAppraisers.ts';

const AHEAD = [
  { upToMi: 4000, label: 'up to 4,000 mi' },
  { upToMi: 8000, label: '4,000 to 8,000 mi' },
  { upToMi: Infinity, label: 'over 8,000 mi' },
];

/** What came of one vehicle's readings, foretold from those before them. */
export interface Backtested {
  looks: BacktestedReading[];
  residuals: Residual[];
}

/** Foretells every reading on record from those before it, and keeps how it came out. */
export async function backtestFleet({ em, computer, records, today, tools }: Fleet): Promise<void> {
  const context = await loadForecastContext(em);
  const perVehicle = await askedOrKept(em, {
    kind: 'backtest',
    items: records,
    recordOf: (record) => record,
    context,
    today,
    drifts: true,
    ask: async (asked) => {
      const backtested = await computer.backtest(asked, (record) => vehicleInputOf(record, context, today), tools);
      const told: Backtested[] = [];
      await inTurns(asked.entries(), ([v, record]) => {
        const looks = backtested[v] ?? [];
        told.push({ looks, residuals: residualsOf(record, vehicleInputOf(record, context, today), looks) });
      });
      return told;
    },
  });
  const classOf = new Map(
    perVehicle.flatMap(({ looks }, v) => looks.map(({ id }) => [id, records[v]?.model.class ?? ''])),
  );
  const detail = await validationOf(perVehicle, (id) => classOf.get(id) ?? '');
  await em.upsert(ValidationEntity, { onlyOne: true, detail, computedAt: new Date() });
}

/**
 * How readings of a whole fleet came out: all, by how far ahead they lay, by quarter and by class. Others are answered
 * between one figure and the next.
 *
 * @param classOf class of the vehicle that a reading, by its id, is of
 */
export async function validationOf(
  perVehicle: readonly Backtested[],
  classOf: (id: string) => string,
): Promise<KeptValidation> {
  const all = perVehicle.flatMap(({ looks }) => looks);
  const labelled = ([label, summary]: [string, BacktestSummary]) => ({ label, ...summary });
  const strains = strainsOf(checkedLooks(perVehicle.flatMap(({ residuals }) => residuals)));
  const byAhead = await grouped(all, ({ milesAhead }) => AHEAD.findIndex(({ upToMi }) => milesAhead <= upToMi));
  const byQuarter = await grouped(all, ({ date }) => quarterOf(date));
  const byClass = await grouped(all, ({ id }) => classOf(id));
  return {
    strains,
    all: summariseBacktest(all) ?? null,
    byAhead: byAhead.map(([index, summary]) => labelled([AHEAD[index]?.label ?? '', summary])),
    byQuarter: byQuarter.map(([quarter, summary]) => labelled([quarter.slice(0, 7), summary])),
    byClass: byClass.map(labelled),
  };
}

/** What the job keeps; what came of past forecasts stands in a table of its own. */
type KeptValidation = Omit<Validation, 'computedAt' | 'calibrations'>;

const SEASONS = ['winter', 'spring', 'summer', 'autumn'] as const;
const ROUTE_NEW_DAYS = 60;
const ODOMETERS = [
  { upToMi: 50_000, label: 'under 50,000 mi' },
  { upToMi: 150_000, label: '50,000 to 150,000 mi' },
  { upToMi: Infinity, label: 'over 150,000 mi' },
];

/** The errors of one vehicle's readings, with the groups in which they may strain what forecasts assume. */
export function residualsOf(
  record: Pick<VehicleRecord, 'id'> & { model: Pick<VehicleRecord['model'], 'class'> },
  input: VehicleInput,
  backtested: readonly BacktestedReading[],
): Residual[] {
  const byId = new Map(input.readings.map((reading) => [reading.id, reading]));
  const routes = input.duty.filter(({ continues }, k) => k > 0 && !continues).map(({ from }) => dayNumber(from));
  return backtested.flatMap(({ id, date, errorMm, sdMm }): Residual[] => {
    const reading = byId.get(id);
    const axle = input.axles.find((one) => one.axle === reading?.axle);
    if (!reading || !axle) return [];
    const day = dayNumber(date);
    const isNew = routes.some((from) => from <= day && day - from < ROUTE_NEW_DAYS);
    const worn = (axle.newMm - (reading.mm - errorMm)) / (axle.newMm - axle.limitMm);
    return [
      {
        of: `${record.id}/${axle.axle}`,
        date,
        z: errorMm / sdMm,
        groups: {
          technician: reading.technician,
          season: SEASONS[Math.floor((Number(date.slice(5, 7)) % 12) / 3)],
          route: isNew ? 'the first 60 days of a route' : 'later on a route',
          age: worn < 1 / 3 ? 'first third of the pad' : worn < 2 / 3 ? 'second third' : 'last third',
          odometer: ODOMETERS.find(({ upToMi }) => reading.miles < upToMi)?.label,
          width: record.model.class,
          run: 'one look and the next',
        },
      },
    ];
  });
}

/** Summaries of groups, in order of their keys. */
async function grouped<K extends string | number>(
  backtested: readonly BacktestedReading[],
  keyOf: (one: BacktestedReading) => K,
): Promise<[K, BacktestSummary][]> {
  const groups = new Map<K, BacktestedReading[]>();
  await inTurns(backtested, (one) => {
    const own = groups.get(keyOf(one));
    if (own) own.push(one);
    else groups.set(keyOf(one), [one]);
  });
  const summaries: [K, BacktestSummary][] = [];
  await inTurns(
    [...groups].sort(([a], [b]) => (a < b ? -1 : 1)),
    ([key, own]) => {
      const summary = summariseBacktest(own);
      if (summary) summaries.push([key, summary]);
    },
  );
  return summaries;
}
