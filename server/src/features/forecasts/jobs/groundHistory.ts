import { dateOfDay, dayNumber, type Hand, UNKNOWN_HAND } from '@mile-mark/core';
import type { EntityManager } from '../../../platform/db/orm.ts';
import type { Settings } from '../../register/index.ts';
import type { InputGround } from '../input.ts';
import { loadForecastGround } from '../queries/ground.ts';
import { GroundHistoryEntity } from '../entities.ts';
import { groundOf, type KeptGround, MONTH_DAYS } from '../queries/keptGround.ts';
import { groupsOf } from './learnGroups.ts';
import { type Fleet, handsOf } from './learnHands.ts';

/**
 * Keeps what the fleet had taught by today, so that a mark can be explained against that of a month ago. Where nothing
 * is kept of a month ago, it is learnt from the record as it stood then.
 */
export async function rememberGround(fleet: Fleet): Promise<void> {
  const { em, records, today } = fleet;
  const ground = await loadForecastGround(em);
  await save(em, today, false, keptOf(ground, records, ground.handOf));
  if (await groundOf(em, today)) return;
  const then = dateOfDay(dayNumber(today) - MONTH_DAYS);
  const back = { ...fleet, today: then };
  const blank = { ...ground, priors: () => undefined, handOf: () => UNKNOWN_HAND };
  const hands = await handsOf(back, blank);
  const known = new Map(hands.hands.map((hand) => [hand.key, hand]));
  const handOf = (key: string): Hand => known.get(key) ?? UNKNOWN_HAND;
  const groups = await groupsOf(back, { ...blank, handOf });
  const priors = new Map(groups.map(({ modelId, axle, prior }) => [`${modelId}/${axle}`, prior]));
  const learnt = { ...ground, priors: (modelId: string, axle: number) => priors.get(`${modelId}/${axle}`) };
  await save(em, then, true, keptOf(learnt, records, handOf));
}

function keptOf(
  { settings, rules, priors }: InputGround & { settings: Settings },
  records: Fleet['records'],
  handOf: (key: string) => Hand,
): KeptGround {
  const groups: KeptGround['groups'] = {};
  const hands: KeptGround['hands'] = {};
  for (const { model, axles, readings } of records) {
    for (const { axle } of axles) {
      const prior = priors(model.id, axle);
      if (prior) groups[`${model.id}/${axle}`] = prior;
    }
    for (const { technician_id, gauge_id } of readings) {
      const key = `${technician_id}/${gauge_id}`;
      const { biasMm, biasSdMm, repeatabilityMm } = handOf(key);
      hands[key] ??= { biasMm, biasSdMm, repeatabilityMm };
    }
  }
  return { settings, rules, groups, hands };
}

async function save(em: EntityManager, asOf: string, afterwards: boolean, ground: KeptGround): Promise<void> {
  await em.upsert(
    GroundHistoryEntity,
    { asOf, detail: ground, afterwards, computedAt: new Date() },
    { onConflictMergeFields: ['detail', 'computedAt'] },
  );
}
