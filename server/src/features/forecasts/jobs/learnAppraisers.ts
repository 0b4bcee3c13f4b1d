import {
  byQuarter,
  dayNumber,
  partsOfPeriod,
  type PeriodPart,
  poolDrift,
  type PooledAppraisers,
} from '@mile-mark/core';
import type { EntityManager } from '../../../platform/db/orm.ts';
import {
  AppraiserDriftEntity,
  AppraiserEntity,
  AppraiserShareEntity,
  appraiserKey,
  partsOfAppraiser,
} from '../../gauges/index.ts';
import type { ComputeOptions, Computer } from '../computer.ts';
import { vehicleInputOf } from '../input.ts';
import { loadForecastContext } from '../queries/context.ts';
import type { VehicleRecord } from '../record.ts';
import { askedOrKept } from './keptAnswers.ts';

/** The whole fleet, and what computes it. */
export interface Fleet {
  em: EntityManager;
  computer: Computer;
  records: VehicleRecord[];
  today: string;
  /** Signal to stop, and how far it is. */
  tools: ComputeOptions;
}

/**
 * Saves what was learnt of every appraiser, with technicians' and gauges' shares: to a hundredth of a millimetre, and as it
 * was where it is as good as the same.
 *
 * @returns whether any figure is another than before: a record that teaches nothing new leaves every figure as it is
 */
export async function saveAppraisers(
  em: EntityManager,
  { appraisers, technicians, gauges }: PooledAppraisers,
  damped: boolean,
): Promise<boolean> {
  const before = new Map(
    (await em.fork({ keepTransactionContext: true }).find(AppraiserEntity, {})).map((row) => [
      appraiserKey(row.technicianId, row.gaugeId),
      row,
    ]),
  );
  const computedAt = new Date();
  const rows = appraisers.map((appraiser) => {
    const known = before.get(appraiser.key);
    return {
      ...partsOfAppraiser(appraiser.key),
      biasMm: settled(known?.biasMm, appraiser.biasMm, damped),
      biasSdMm: settled(known?.biasSdMm, appraiser.biasSdMm, damped),
      againstMm: rounded(appraiser.againstOthers.biasMm),
      againstSdMm: rounded(appraiser.againstOthers.biasSdMm),
      repeatabilityMm: Math.max(
        LEAST_REPEATABILITY_MM,
        settled(known?.repeatabilityMm, appraiser.repeatabilityMm, damped),
      ),
      repeatabilityLogSd: appraiser.repeatabilityLogSd,
      readings: appraiser.readings,
      computedAt,
    };
  });
  await em.transactional(async (inner) => {
    await inner.nativeDelete(AppraiserEntity, {});
    await inner.nativeDelete(AppraiserShareEntity, {});
    await inner.insertMany(AppraiserEntity, rows);
    await inner.insertMany(AppraiserShareEntity, [
      ...sharesOf('technician', technicians),
      ...sharesOf('gauge', gauges),
    ]);
  });
  return rows.some((row) => {
    const known = before.get(appraiserKey(row.technicianId, row.gaugeId));
    return (
      known?.biasMm !== row.biasMm || known.biasSdMm !== row.biasSdMm || known.repeatabilityMm !== row.repeatabilityMm
    );
  });
}

/** Less than this is no change of what is known of an appraiser, mm. */
const SETTLED_MM = 0.01;

/**
 * A figure as it is kept: what was known, where what is learnt now differs by no more than a hundredth of a millimetre;
 * else what is learnt, or half-way to it.
 */
function settled(known: number | undefined, learnt: number, damped: boolean): number {
  if (known === undefined) return rounded(learnt);
  if (Math.abs(learnt - known) <= SETTLED_MM) return known;
  if (!damped) return rounded(learnt);
  const half = rounded(known + (learnt - known) / 2);
  return half === known ? rounded(learnt) : half;
}

/** Nobody reads more alike than this, mm: a gauge's own step. */
const LEAST_REPEATABILITY_MM = 0.02;

const sharesOf = (kind: 'technician' | 'gauge', shares: PooledAppraisers['technicians']) =>
  [...shares].map(([subjectId, { biasMm, biasSdMm }]) => ({
    kind,
    subjectId,
    biasMm: rounded(biasMm),
    biasSdMm: rounded(biasSdMm),
  }));

/** To a hundredth of a millimetre, so that a change that means nothing leaves every forecast as it is. */
function rounded(mm: number): number {
  return Math.round(mm * 100) / 100;
}

/** Less than this is no change of a bias in a quarter, mm; less where the fleet teaches something new anyway. */
const DRIFT_SETTLED_MM = { resting: 0.03, moving: 0.01 };

/**
 * How each appraiser's bias has moved from quarter to quarter: the fleet is asked once more with every quarter as an appraiser
 * of its own, neighbouring quarters alike.
 *
 * @param moved whether anything else was another than before
 * @returns whether any quarter's bias is another than before
 */
export async function learnDrift({ em, computer, records, today, tools }: Fleet, moved: boolean): Promise<boolean> {
  const context = await loadForecastContext(em);
  const before = new Map(
    (await em.fork({ keepTransactionContext: true }).find(AppraiserDriftEntity, {})).map((row) => [
      `${appraiserKey(row.technicianId, row.gaugeId)}@${row.quarter}`,
      row.biasMm,
    ]),
  );
  const evidence = await askedOrKept(em, {
    kind: 'quarters',
    items: records,
    recordOf: (record) => record,
    context,
    today,
    drifts: false,
    ask: (asked) =>
      computer.appraisers(
        asked,
        (record) => byQuarter(vehicleInputOf(record, context, today), context.appraiserOf),
        tools,
      ),
  });
  const keys = [...new Set(evidence.flatMap(({ appraisers }) => appraisers))].sort();
  const parts = keys.map((key): PeriodPart => {
    const { appraiser, quarter } = partsOfPeriod(key);
    const { technicianId, gaugeId } = partsOfAppraiser(appraiser);
    const period = Math.round(dayNumber(quarter) / QUARTER_DAYS);
    return { key, whole: appraiser, technician: technicianId, gauge: gaugeId, period };
  });
  const least = moved ? DRIFT_SETTLED_MM.moving : DRIFT_SETTLED_MM.resting;
  const rows = poolDrift(parts, evidence, context.appraiserOf).map(({ key, biasMm, biasSdMm, readings }) => {
    const { appraiser, quarter } = partsOfPeriod(key);
    const known = before.get(key);
    const same = known !== undefined && Math.abs(biasMm - known) <= least;
    return { ...partsOfAppraiser(appraiser), quarter, biasMm: same ? known : rounded(biasMm), biasSdMm, readings, key };
  });
  await em.transactional(async (inner) => {
    await inner.nativeDelete(AppraiserDriftEntity, {});
    await inner.insertMany(
      AppraiserDriftEntity,
      rows.map(({ key: _key, ...row }) => row),
    );
  });
  return rows.length !== before.size || rows.some(({ key, biasMm }) => before.get(key) !== biasMm);
}

const QUARTER_DAYS = 91.31;
