import {
  dayNumber,
  poolHands,
  UNKNOWN_HAND,
  type Hand,
  type HandEvidence,
  type HandPart,
  type PooledHands,
  type VehicleInput,
} from '@mile-mark/core';
import { partsOfHand, vehicleInputOf, type InputGround, type VehicleRecord } from '../db/mappers.ts';
import type { EntityManager } from '../db/orm.ts';
import { studyEvidenceOf } from '../services/studyEvidence.ts';
import { loadForecastGround } from '../services/vehicleRecords.ts';
import type { Computer } from './compute.ts';

/** The whole fleet, and what computes it. */
export interface Fleet {
  em: EntityManager;
  computer: Computer;
  records: VehicleRecord[];
  today: string;
}

/**
 * Learns bias and repeatability of every hand from all readings on record and all gauge studies, starting from
 * what was known before, and saves them with technicians' and gauges' shares.
 */
export async function learnHands(fleet: Fleet): Promise<void> {
  const { em } = fleet;
  const { hands, technicians, gauges } = await handsOf(fleet, await loadForecastGround(em));
  await em.transactional(async (inner) => {
    await inner.execute('delete from hand');
    await inner.execute('delete from hand_share');
    for (const hand of hands) {
      const { technicianId, gaugeId } = partsOfHand(hand.key);
      await inner.execute(
        `insert into hand (technician_id, gauge_id, bias_mm, bias_sd_mm, against_mm, against_sd_mm, repeatability_mm,
           repeatability_log_sd, readings) values (?, ?, ?, ?, ?, ?, ?, ?, ?)`,
        [
          technicianId,
          gaugeId,
          rounded(hand.biasMm),
          rounded(hand.biasSdMm),
          rounded(hand.againstOthers.biasMm),
          rounded(hand.againstOthers.biasSdMm),
          Math.max(0.02, rounded(hand.repeatabilityMm)),
          hand.repeatabilityLogSd,
          hand.readings,
        ],
      );
    }
    for (const [kind, shares] of [
      ['technician', technicians],
      ['gauge', gauges],
    ] as const)
      for (const [id, { biasMm, biasSdMm }] of shares)
        await inner.execute('insert into hand_share (kind, subject_id, bias_mm, bias_sd_mm) values (?, ?, ?, ?)', [
          kind,
          id,
          rounded(biasMm),
          rounded(biasSdMm),
        ]);
  });
}

/** What readings and studies say of every hand, starting from what the ground knows; nothing is saved. */
export async function handsOf({ em, computer, records, today }: Fleet, ground: InputGround): Promise<PooledHands> {
  const evidence = await computer.hands(records, (record) => vehicleInputOf(record, ground, today));
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
export async function learnDrift({ em, computer, records, today }: Fleet): Promise<void> {
  const ground = await loadForecastGround(em);
  const whole = (key: string) => ground.handOf(key.split('@')[0] ?? '');
  const evidence = await computer.hands(records, (record) => byQuarter(vehicleInputOf(record, ground, today), whole));
  const parts = partsIn(evidence, (key) => {
    const [hand = '', quarter = ''] = key.split('@');
    return { ...partsOfHand(hand), period: Math.round(dayNumber(quarter) / 91.31) };
  });
  const { hands } = poolHands(parts, evidence, whole);
  await em.transactional(async (inner) => {
    await inner.execute('delete from hand_drift');
    for (const { key, biasMm, biasSdMm, readings } of hands) {
      const [hand = '', quarter = ''] = key.split('@');
      const { technicianId, gaugeId } = partsOfHand(hand);
      await inner.execute(
        'insert into hand_drift (technician_id, gauge_id, quarter, bias_mm, bias_sd_mm, readings) values (?, ?, ?, ?, ?, ?)',
        [technicianId, gaugeId, quarter, biasMm, biasSdMm, readings],
      );
    }
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
