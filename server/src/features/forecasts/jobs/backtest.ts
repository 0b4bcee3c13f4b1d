import { ValidationEntity } from '../entities.ts';
import type { Validation } from '@mile-mark/contract/forecasts';
import { type BacktestedReading, type BacktestSummary, summariseBacktest } from '@mile-mark/core';
import { vehicleInputOf } from '../input.ts';
import { loadForecastContext } from '../queries/context.ts';
import { type Fleet, quarterOf } from './learnAppraisers.ts';

const AHEAD = [
  { upToMi: 4000, label: 'up to 4,000 mi' },
  { upToMi: 8000, label: '4,000 to 8,000 mi' },
  { upToMi: Infinity, label: 'over 8,000 mi' },
];

/** Foretells every reading on record from those before it, and keeps how it came out. */
export async function backtestFleet({ em, computer, records, today }: Fleet): Promise<void> {
  const context = await loadForecastContext(em);
  const perVehicle = await computer.backtest(records, (record) => vehicleInputOf(record, context, today));
  const all = perVehicle.flat();
  const classOf = new Map(perVehicle.flatMap((own, v) => own.map(({ id }) => [id, records[v]?.model.class ?? ''])));
  const detail: Omit<Validation, 'computedAt'> = {
    all: summariseBacktest(all) ?? null,
    byAhead: grouped(all, ({ milesAhead }) => AHEAD.findIndex(({ upToMi }) => milesAhead <= upToMi)).map(
      ([index, summary]) => ({ label: AHEAD[index]?.label ?? '', ...summary }),
    ),
    byQuarter: grouped(all, ({ date }) => quarterOf(date)).map(([quarter, summary]) => ({
      label: quarter.slice(0, 7),
      ...summary,
    })),
    byClass: grouped(all, ({ id }) => classOf.get(id) ?? '').map(([label, summary]) => ({ label, ...summary })),
  };
  await em.upsert(ValidationEntity, { onlyOne: true, detail, computedAt: new Date() });
}

/** Summaries of groups, in order of their keys. */
function grouped<K extends string | number>(
  backtested: readonly BacktestedReading[],
  keyOf: (one: BacktestedReading) => K,
): [K, BacktestSummary][] {
  const groups = new Map<K, BacktestedReading[]>();
  for (const one of backtested) {
    const own = groups.get(keyOf(one));
    if (own) own.push(one);
    else groups.set(keyOf(one), [one]);
  }
  return [...groups]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .flatMap(([key, own]) => {
      const summary = summariseBacktest(own);
      return summary ? [[key, summary] as [K, BacktestSummary]] : [];
    });
}
