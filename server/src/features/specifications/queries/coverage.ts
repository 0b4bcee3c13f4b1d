import {
  type BenchJoint,
  type BenchModel,
  benchOf,
  type Coverage,
  fitInWords,
  headOf,
  torqueInWords,
} from '@mile-mark/contract/specifications';
import { type Bench, fitJoint, hardestMiss, jointsOfBrake } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { groupBy } from '../../../platform/groupBy.ts';
import { benchModels } from './benchSheets.ts';
import { listJointKinds } from './specifications.ts';
import { listTorqueTools } from './torqueTools.ts';

const Mark = z.object({
  unit: z.string(),
  depot: z.string(),
  model_id: z.string(),
  axle: z.number(),
  mark_date: z.string().nullable(),
});
type Mark = z.output<typeof Mark>;

/** Jobs named beside what they lack; the rest is a number. */
const JOBS_NAMED = 6;

/** What the library lacks and what no bench reaches, by the nearest mile mark that will need it. */
export async function coverage(em: EntityManager, today: string): Promise<Coverage> {
  const marks = await rowsOf(
    em,
    Mark,
    `select v.unit, d.name as depot, v.model_id, a.axle, f.mark->>'markDate' as mark_date
     from vehicle_in_fleet v join depot d on d.id = v.depot_id join model_axle a on a.model_id = v.model_id
       left join forecast f on f.vehicle_id = v.id and f.axle = a.axle
     order by f.mark->>'markDate' nulls last, v.unit, a.axle`,
  );
  const models = await benchModels(em, [...new Set(marks.map(({ model_id }) => model_id))]);
  const tools = groupBy(await listTorqueTools(em), ({ depot }) => depot);
  const benches = new Map(
    [...new Set(marks.map(({ depot }) => depot))].map((depot) => [depot, benchOf(tools.get(depot) ?? [])]),
  );
  const first = (marksOfThem: Mark[]) => marksOfThem[0]?.mark_date ?? '9999';
  const byMark = <T extends { marks: Mark[] }>(rows: T[]) =>
    rows.sort((a, b) => first(a.marks).localeCompare(first(b.marks)));
  return {
    lacking: byMark(await lacking(em, models, marks)).map(({ row }) => row),
    unreachable: byMark(unreachable(models, marks, benches, today)).map(({ row }) => row),
  };
}

const named = (marks: readonly Mark[]) =>
  marks.slice(0, JOBS_NAMED).flatMap(({ unit, mark_date }) => (mark_date ? [{ unit, markDate: mark_date }] : []));

async function lacking(em: EntityManager, models: readonly BenchModel[], marks: readonly Mark[]) {
  const kinds = await listJointKinds(em);
  const open = new Set(
    (
      await rowsOf(
        em,
        z.object({ place: z.string() }),
        `select model_id || ' ' || axle || ' ' || coalesce(joint_kind_id::text, '') as place from specification
         where open_revision_id is not null`,
      )
    ).map(({ place }) => place),
  );
  const of = groupBy(marks, ({ model_id, axle }) => `${model_id} ${axle}`);
  return models.flatMap((model) =>
    model.axles.flatMap(({ axle, brake, unknown, joints, sheet }) => {
      const own = of.get(`${model.id} ${axle}`) ?? [];
      const missing: { id: string | null; name: string }[] = jointsOfBrake(kinds, brake)
        .filter(({ name }) => unknown.includes(name))
        .map(({ id, name }) => ({ id, name }));
      // A released one whose document states no torque leaves it as unknown as before.
      for (const { joint, position, values } of joints)
        if (values.torque === null)
          missing.push({
            id: kinds.find(({ name }) => name === joint)?.id ?? null,
            name: `${position ? `${joint}, ${position}` : joint}: its torque`,
          });
      if (!sheet) missing.push({ id: null, name: 'Limits, fluid, bed-in' });
      return missing.map(({ id, name }) => ({
        marks: own,
        row: {
          modelId: model.id,
          model: model.name,
          axle,
          jointKindId: id,
          joint: name,
          vehicles: own.length,
          nearest: named(own)[0] ?? null,
          waiting: open.has(`${model.id} ${axle} ${id ?? ''}`),
        },
      }));
    }),
  );
}

interface Miss {
  marks: Mark[];
  row: Coverage['unreachable'][number];
}

/** Torques of jobs that the bench of their depot doesn't reach; axles that lack the same are one row. */
function unreachable(
  models: readonly BenchModel[],
  marks: readonly Mark[],
  benches: ReadonlyMap<string, Bench>,
  today: string,
): Miss[] {
  const byId = new Map(models.map((model) => [model.id, model]));
  const groups = groupBy(marks, ({ depot, model_id, axle }) => `${depot} ${model_id} ${axle}`);
  const misses = [...groups.values()].flatMap((own) => {
    const joints = byId.get(own[0]?.model_id ?? '')?.axles.find(({ axle }) => axle === own[0]?.axle)?.joints ?? [];
    return joints.flatMap((joint) => missOf(joint, own, byId, benches, today));
  });
  const alike = groupBy(misses, ({ row: { depot, model, joint, torque, need } }) =>
    [depot, model, joint, torque, need].join('|'),
  );
  return [...alike.values()].flatMap((same) => {
    const [first] = same;
    if (!first) return [];
    const all = same.flatMap((one) => one.marks).sort((a, b) => (a.mark_date ?? '9').localeCompare(b.mark_date ?? '9'));
    const nearest = [...groupBy(all, ({ unit }) => unit).values()].flatMap(([earliest]) => earliest ?? []);
    return [
      {
        marks: all,
        row: {
          ...first.row,
          axles: same.flatMap(({ row }) => row.axles).sort(),
          vehicles: nearest.length,
          jobs: named(nearest),
        },
      },
    ];
  });
}

function missOf(
  { joint, position, values }: BenchJoint,
  marks: Mark[],
  models: ReadonlyMap<string, BenchModel>,
  benches: ReadonlyMap<string, Bench>,
  today: string,
): Miss[] {
  const [{ depot, model_id, axle } = { depot: '', model_id: '', axle: 0 }] = marks;
  const bench = benches.get(depot);
  const { torque } = values;
  const head = headOf(values);
  const fit = bench && hardestMiss(fitJoint(torque, bench, today, head));
  if (!fit || !torque) return [];
  const elsewhere = [...benches].filter(
    ([name, other]) => name !== depot && !hardestMiss(fitJoint(torque, other, today, head)),
  );
  return [
    {
      marks,
      row: {
        depot,
        model: models.get(model_id)?.name ?? '',
        axles: [axle],
        joint: position ? `${joint}, ${position}` : joint,
        torque: torqueInWords(torque),
        overdue: fit.kind === 'overdue' ? { tool: fit.tool.name, due: fit.due } : null,
        need: fitInWords(fit),
        elsewhere: elsewhere.map(([name]) => name).sort(),
        vehicles: marks.length,
        jobs: [],
      },
    },
  ];
}
