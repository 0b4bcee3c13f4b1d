import { learnFrom, type FleetLearning, type Lesson, type WearPrior } from '@mile-mark/core';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { partsOfAppraiser, studyEvidenceOf } from '../../gauges/index.ts';
import { WearGroupEntity } from '../entities.ts';
import { type InputContext, vehicleInputOf } from '../input.ts';
import { loadForecastContext } from '../queries/context.ts';
import type { VehicleRecord } from '../record.ts';
import { askedOrKept } from './keptAnswers.ts';
import { type Fleet, saveAppraisers } from './learnAppraisers.ts';

const groupOf = (modelId: string, axle: number) => `${modelId}/${axle}`;

/** How a round goes on from what is known. */
export interface Going {
  /** Whether what is another than before goes only half-way, so that rounds come to rest. */
  damped: boolean;
  /** Whether anything was another than before already: what moves goes nearer to its rest than what would have to begin to. */
  moved: boolean;
}

/** What each vehicle teaches, asked with what the context knows. */
export async function lessonsOf(
  { computer, today, tools }: Fleet,
  records: readonly VehicleRecord[],
  context: InputContext,
): Promise<Lesson[]> {
  return computer.lessons(
    records,
    (record) => ({
      input: vehicleInputOf(record, context, today),
      groups: Object.fromEntries(record.axles.map(({ axle }) => [axle, groupOf(record.model.id, axle)])),
    }),
    tools,
  );
}

/** What the lessons of a whole fleet and the gauge studies teach together. */
export async function taughtBy(
  { em, records }: Fleet,
  lessons: readonly Lesson[],
  context: InputContext,
): Promise<FleetLearning> {
  const studies = await studyEvidenceOf(em, context.appraiserOf);
  const heavy = new Set(records.filter(({ model }) => model.class === 'heavy').map(({ model }) => model.id));
  const keys = [...new Set([...lessons, ...studies].flatMap(({ appraisers }) => appraisers))].sort();
  return learnFrom(lessons, {
    parts: keys.map((key) => {
      const { technicianId, gaugeId } = partsOfAppraiser(key);
      return { key, technician: technicianId, gauge: gaugeId };
    }),
    present: context.appraiserOf,
    classOf: (group) => (heavy.has(group.split('/')[0] ?? '') ? 'heavy' : 'light'),
    studies,
  });
}

/**
 * One round of learning: every vehicle is asked with what is known, and what all teach of groups and appraisers is kept.
 *
 * @returns whether it taught anything new
 */
export async function learnFleet(fleet: Fleet, going: Going): Promise<boolean> {
  const { em, records, today } = fleet;
  const context = await loadForecastContext(em);
  const lessons = await askedOrKept(em, {
    kind: 'lesson',
    items: records,
    recordOf: (record) => record,
    context,
    today,
    drifts: true,
    ask: (asked) => lessonsOf(fleet, asked, context),
  });
  const { appraisers, groups } = await taughtBy(fleet, lessons, context);
  const levels = await saveGroups(em, groups, going);
  return (await saveAppraisers(em, appraisers, going.damped)) || levels;
}

/** Less than this is no change of a level or a spread, in the logarithm: a hundredth of the rate; less where it moves. */
const SETTLED_LOG = { resting: 0.01, moving: 0.002 };

/** Saves the groups' levels; one that is as good as the same stays, any other goes all the way, or half of it. */
async function saveGroups(em: EntityManager, groups: FleetLearning['groups'], going: Going): Promise<boolean> {
  const before = new Map(
    (await em.fork({ keepTransactionContext: true }).find(WearGroupEntity, {})).map((row) => [
      groupOf(row.modelId, row.axle),
      row,
    ]),
  );
  let changed = false;
  const rows = [...groups].map(([name, { prior, vehicles }]) => {
    const [modelId = '', axle = ''] = name.split('/');
    const known = before.get(name);
    const kept = known ? settled(known, prior, going) : prior;
    changed ||=
      !known || Object.keys(kept).some((key) => kept[key as keyof WearPrior] !== known[key as keyof WearPrior]);
    return { modelId, axle: Number(axle), ...kept, vehicles, computedAt: new Date() };
  });
  await em.transactional(async (inner) => {
    await inner.nativeDelete(WearGroupEntity, {});
    if (rows.length > 0) await inner.insertMany(WearGroupEntity, rows);
  });
  return changed;
}

function settled(known: WearPrior, learnt: WearPrior, { damped, moved }: Going): WearPrior {
  const least = moved ? SETTLED_LOG.moving : SETTLED_LOG.resting;
  const of = (key: keyof WearPrior) => {
    const off = learnt[key] - known[key];
    return Math.abs(off) <= least ? known[key] : known[key] + (damped ? off / 2 : off);
  };
  return { mean: of('mean'), sdVehicle: of('sdVehicle'), sdAxle: of('sdAxle'), sdPad: of('sdPad') };
}
