import {
  AxleValues,
  type BenchAxle,
  type BenchModel,
  BenchOfDepot,
  type BenchOfVehicle,
  type JointKindRow,
  JointValues,
  Source,
} from '@mile-mark/contract/specifications';
import { jointsOfBrake } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { uuidArray } from '../../../platform/db/uuidArray.ts';
import { ApiError } from '../../../platform/errors.ts';
import { groupBy } from '../../../platform/groupBy.ts';
import { ModelAxleEntity, ModelEntity, vehicleOfUnit } from '../../register/index.ts';
import { fitmentOf } from './models.ts';
import { listJointKinds } from './specifications.ts';
import { listTorqueTools } from './torqueTools.ts';

const ReleasedSql = z.object({
  model_id: z.string(),
  axle: z.number(),
  joint_kind_id: z.string().nullable(),
  joint: z.string().nullable(),
  position: z.string(),
  detail: z.unknown(),
  source: Source,
  number: z.number(),
  released_on: z.string(),
  demo: z.boolean(),
});
type ReleasedSql = z.output<typeof ReleasedSql>;

/** Released specifications, and nothing else, of models. */
async function releasedOf(em: EntityManager, modelIds: string[]): Promise<ReleasedSql[]> {
  return rowsOf(
    em,
    ReleasedSql,
    `select s.model_id, s.axle, s.joint_kind_id, k.name as joint, s.position, rel.detail, r.number, rel.released_on::text, r.demo,
       jsonb_build_object('document', r.document, 'page', r.page, 'revision', r.revision, 'date', r.dated) as source
     from specification s join specification_release rel on rel.revision_id = s.released_revision_id
       join specification_revision r on r.id = s.released_revision_id left join joint_kind k on k.id = s.joint_kind_id
     where s.model_id = any(?::uuid[]) order by s.axle, k.place, s.position`,
    [uuidArray(modelIds)],
  );
}

/** What a bench needs to know of models: every axle with its released joints, and those that are unknown. */
export async function benchModels(em: EntityManager, modelIds: string[]): Promise<BenchModel[]> {
  const kinds = await listJointKinds(em);
  const released = groupBy(await releasedOf(em, modelIds), ({ model_id, axle }) => `${model_id} ${axle}`);
  const models = await em.find(ModelEntity, { id: { $in: modelIds } }, { orderBy: { name: 'asc' } });
  const axles = await em.find(ModelAxleEntity, { modelId: { $in: modelIds } }, { orderBy: { axle: 'asc' } });
  const axlesOf = groupBy(axles, ({ modelId }) => modelId);
  return models.map((model) => ({
    id: model.id,
    name: model.name,
    fitment: fitmentOf(model),
    axles: (axlesOf.get(model.id) ?? []).map(({ axle, brake, brakeDetail }) =>
      benchAxle(
        { axle, brake: brake as BenchAxle['brake'], detail: brakeDetail },
        released.get(`${model.id} ${axle}`) ?? [],
        kinds,
      ),
    ),
  }));
}

function benchAxle(
  axle: Pick<BenchAxle, 'axle' | 'brake' | 'detail'>,
  released: ReleasedSql[],
  kinds: readonly JointKindRow[],
): BenchAxle {
  const known = new Set(released.map(({ joint_kind_id }) => joint_kind_id));
  const whole = released.find(({ joint_kind_id }) => joint_kind_id === null);
  return {
    ...axle,
    joints: released.flatMap(({ joint, position, detail, source, number, released_on, demo }) => {
      if (joint === null) return [];
      const values = JointValues.parse(detail);
      return values.absent ? [] : [{ joint, position, values, source, number, releasedOn: released_on, demo }];
    }),
    unknown: jointsOfBrake(kinds, axle.brake)
      .filter(({ id, expected }) => expected && !known.has(id))
      .map(({ name }) => name),
    sheet: whole
      ? {
          values: AxleValues.parse(whole.detail),
          source: whole.source,
          number: whole.number,
          releasedOn: whole.released_on,
          demo: whole.demo,
        }
      : null,
  };
}

/** One vehicle's bench sheets, and its depot's torque tools. */
export async function benchOfVehicle(em: EntityManager, unit: string): Promise<BenchOfVehicle> {
  const vehicle = await vehicleOfUnit(em, unit, 'unit');
  const [depot] = await rowsOf(em, z.object({ name: z.string() }), 'select name from depot where id = ?', [
    vehicle.depotId,
  ]);
  const [model] = await benchModels(em, [vehicle.modelId]);
  if (!depot || !model) throw new ApiError('not_found');
  return {
    at: new Date().toISOString(),
    unit: vehicle.unit,
    depot: depot.name,
    model,
    tools: await listTorqueTools(em, depot.name),
  };
}

/** The same for all vehicles of a depot. */
export async function benchOfDepot(em: EntityManager, depotId: string): Promise<BenchOfDepot> {
  const [depot] = await rowsOf(em, z.object({ name: z.string() }), 'select name from depot where id = ?', [depotId]);
  if (!depot) throw new ApiError('not_found', 'There is no such depot on record.');
  const vehicles = await rowsOf(
    em,
    BenchOfDepot.shape.vehicles.element,
    `select v.unit, v.model_id as "modelId", (select jsonb_build_object('axle', f.axle, 'markDate', f.mark->>'markDate')
       from forecast f where f.vehicle_id = v.id order by f.mark->>'markDate', f.axle limit 1) as next
     from vehicle_in_fleet v where v.depot_id = ? order by v.unit`,
    [depotId],
  );
  return {
    at: new Date().toISOString(),
    depot: depot.name,
    vehicles,
    models: await benchModels(em, [...new Set(vehicles.map(({ modelId }) => modelId))]),
    tools: await listTorqueTools(em, depot.name),
  };
}
