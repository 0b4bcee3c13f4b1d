import {
  dayNumber,
  type Appraiser,
  type PeriodPart,
  poolDrift,
  type PooledAppraisers,
  UNKNOWN_APPRAISER,
  type VehicleInput,
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
      biasMm: settled(known?.biasMm, appraiser.biasMm),
      biasSdMm: settled(known?.biasSdMm, appraiser.biasSdMm),
      againstMm: rounded(appraiser.againstOthers.biasMm),
      againstSdMm: rounded(appraiser.againstOthers.biasSdMm),
      repeatabilityMm: Math.max(LEAST_REPEATABILITY_MM, settled(known?.repeatabilityMm, appraiser.repeatabilityMm)),
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
 * else half-way to it, as groups and appraisers learn of each other in turn and would swing about what both agree on.
 */
function settled(known: number | undefined, learnt: number): number {
  if (known === undefined) return rounded(learnt);
  if (Math.abs(learnt - known) <= SETTLED_MM) return known;
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

/**
 * How each appraiser's bias has moved from quarter to quarter: the fleet is asked once more with every quarter as an appraiser
 * of its own, neighbouring quarters alike.
 */
export async function learnDrift({ em, computer, records, today, tools }: Fleet): Promise<void> {
  const context = await loadForecastContext(em);
  const whole = (key: string) => context.appraiserOf(key.split('@')[0] ?? '');
  const evidence = await computer.appraisers(
    records,
    (record) => byQuarter(vehicleInputOf(record, context, today), whole),
    tools,
  );
  const keys = [...new Set(evidence.flatMap(({ appraisers }) => appraisers))].sort();
  const parts = keys.map((key): PeriodPart => {
    const [appraiser = '', quarter = ''] = key.split('@');
    const { technicianId, gaugeId } = partsOfAppraiser(appraiser);
    const period = Math.round(dayNumber(quarter) / 91.31);
    return { key, whole: appraiser, technician: technicianId, gauge: gaugeId, period };
  });
  const appraisers = poolDrift(parts, evidence, context.appraiserOf);
  await em.transactional(async (inner) => {
    await inner.nativeDelete(AppraiserDriftEntity, {});
    await inner.insertMany(
      AppraiserDriftEntity,
      appraisers.map(({ key, biasMm, biasSdMm, readings }) => {
        const [appraiser = '', quarter = ''] = key.split('@');
        return { ...partsOfAppraiser(appraiser), quarter, biasMm, biasSdMm, readings };
      }),
    );
  });
}

/** First day of the quarter of a date. */
export function quarterOf(date: string): string {
  const month = Math.floor((Number(date.slice(5, 7)) - 1) / 3) * 3 + 1;
  return `${date.slice(0, 4)}-${String(month).padStart(2, '0')}-01`;
}

function byQuarter(input: VehicleInput, appraiserOf: (key: string) => Appraiser): VehicleInput {
  const readings = input.readings.map((reading) => ({
    ...reading,
    appraiser: `${reading.appraiser ?? ''}@${quarterOf(reading.date)}`,
  }));
  const keys = [...new Set(readings.map(({ appraiser }) => appraiser))];
  return {
    ...input,
    readings,
    appraisers: Object.fromEntries(keys.map((key) => [key, appraiserOf(key)])),
    unknownAppraiser: UNKNOWN_APPRAISER,
  };
}
