import {
  dayNumber,
  type Hand,
  type HandEvidence,
  type HandPart,
  type PooledHands,
  poolHands,
  UNKNOWN_HAND,
  type VehicleInput,
} from '@mile-mark/core';
import type { EntityManager } from '../../../platform/db/orm.ts';
import {
  AppraiserDriftEntity,
  AppraiserEntity,
  AppraiserShareEntity,
  partsOfHand,
  studyEvidenceOf,
} from '../../gauges/index.ts';
import type { ComputeOptions, Computer } from '../computer.ts';
import { type InputGround, vehicleInputOf } from '../input.ts';
import { loadForecastGround } from '../queries/ground.ts';
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
 * Learns bias and repeatability of every hand from all readings on record and all gauge studies, starting from
 * what was known before, and saves them with technicians' and gauges' shares.
 */
export async function learnHands(fleet: Fleet): Promise<void> {
  const { em } = fleet;
  const { hands, technicians, gauges } = await handsOf(fleet, await loadForecastGround(em));
  const computedAt = new Date();
  await em.transactional(async (inner) => {
    await inner.nativeDelete(AppraiserEntity, {});
    await inner.nativeDelete(AppraiserShareEntity, {});
    await inner.insertMany(
      AppraiserEntity,
      hands.map((hand) => ({
        ...partsOfHand(hand.key),
        biasMm: rounded(hand.biasMm),
        biasSdMm: rounded(hand.biasSdMm),
        againstMm: rounded(hand.againstOthers.biasMm),
        againstSdMm: rounded(hand.againstOthers.biasSdMm),
        repeatabilityMm: Math.max(LEAST_REPEATABILITY_MM, rounded(hand.repeatabilityMm)),
        repeatabilityLogSd: hand.repeatabilityLogSd,
        readings: hand.readings,
        computedAt,
      })),
    );
    await inner.insertMany(AppraiserShareEntity, [
      ...sharesOf('technician', technicians),
      ...sharesOf('gauge', gauges),
    ]);
  });
}

/** Nobody reads more alike than this, mm: a gauge's own step. */
const LEAST_REPEATABILITY_MM = 0.02;

const sharesOf = (kind: 'technician' | 'gauge', shares: PooledHands['technicians']) =>
  [...shares].map(([subjectId, { biasMm, biasSdMm }]) => ({
    kind,
    subjectId,
    biasMm: rounded(biasMm),
    biasSdMm: rounded(biasSdMm),
  }));

/** What readings and studies say of every hand, starting from what the ground knows; nothing is saved. */
export async function handsOf(
  { em, computer, records, today, tools }: Fleet,
  ground: InputGround,
): Promise<PooledHands> {
  const evidence = await computer.hands(records, (record) => vehicleInputOf(record, ground, today), tools);
  const studies = await studyEvidenceOf(em, ground.handOf);
  const parts = partsIn([...evidence, ...studies], (key) => partsOfHand(key));
  return poolHands(parts, [...evidence, ...studies], ground.handOf);
}

/** To a hundredth of a millimetre, so that a change that means nothing leaves every forecast as it is. */
function rounded(mm: number): number {
  return Math.round(mm * 100) / 100;
}

/**
 * How each hand's bias has moved from quarter to quarter: the fleet is asked once more with every quarter as a hand
 * of its own, neighbouring quarters alike.
 */
export async function learnDrift({ em, computer, records, today, tools }: Fleet): Promise<void> {
  const ground = await loadForecastGround(em);
  const whole = (key: string) => ground.handOf(key.split('@')[0] ?? '');
  const evidence = await computer.hands(
    records,
    (record) => byQuarter(vehicleInputOf(record, ground, today), whole),
    tools,
  );
  const parts = partsIn(evidence, (key) => {
    const [hand = '', quarter = ''] = key.split('@');
    return { ...partsOfHand(hand), period: Math.round(dayNumber(quarter) / 91.31) };
  });
  const { hands } = poolHands(parts, evidence, whole);
  await em.transactional(async (inner) => {
    await inner.nativeDelete(AppraiserDriftEntity, {});
    await inner.insertMany(
      AppraiserDriftEntity,
      hands.map(({ key, biasMm, biasSdMm, readings }) => {
        const [hand = '', quarter = ''] = key.split('@');
        return { ...partsOfHand(hand), quarter, biasMm, biasSdMm, readings };
      }),
    );
  });
}

/** First day of the quarter of a date. */
export function quarterOf(date: string): string {
  const month = Math.floor((Number(date.slice(5, 7)) - 1) / 3) * 3 + 1;
  return `${date.slice(0, 4)}-${String(month).padStart(2, '0')}-01`;
}

function byQuarter(input: VehicleInput, handOf: (key: string) => Hand): VehicleInput {
  const readings = input.readings.map((reading) => ({
    ...reading,
    hand: `${reading.hand ?? ''}@${quarterOf(reading.date)}`,
  }));
  const keys = [...new Set(readings.map(({ hand }) => hand))];
  return {
    ...input,
    readings,
    hands: Object.fromEntries(keys.map((key) => [key, handOf(key)])),
    unknownHand: UNKNOWN_HAND,
  };
}

function partsIn(
  evidence: readonly HandEvidence[],
  taken: (key: string) => { technicianId: string; gaugeId: string; period?: number },
): HandPart[] {
  return [...new Set(evidence.flatMap(({ hands }) => hands))].sort().map((key) => {
    const { technicianId, gaugeId, period } = taken(key);
    return { key, technician: technicianId, gauge: gaugeId, period };
  });
}
