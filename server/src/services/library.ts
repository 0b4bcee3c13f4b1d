import type { Fitment, LibraryModel } from '@mile-mark/contract';
import { mustBeAllowed, type Actor } from '../auth/policy.ts';
import { ModelEntity, type ModelRow } from '../db/entities.ts';
import type { EntityManager } from '../db/orm.ts';
import { groupBy } from '../groupBy.ts';
import { Refusal, refuseField } from '../errors.ts';
import { recordDeed } from './audit.ts';
import { bumpInputs, vehicleOfUnit } from './lookups.ts';

/** What tells a variant from its sisters. */
export function fitmentOf(row: ModelRow): Fitment {
  return {
    drive: row.drive ?? null,
    wheelbaseMm: row.wheelbaseMm ?? null,
    builtFrom: row.builtFrom ?? null,
    builtTo: row.builtTo ?? null,
    axleOption: row.axleOption ?? null,
  };
}

interface AxleCount {
  model_id: string;
  axle: number;
  brake: 'hydraulic' | 'air';
  brake_detail: string;
  released: number;
  lacking: number;
  open: number;
}

/** Models with how far their specifications are, axle by axle. */
export async function libraryModels(em: EntityManager): Promise<LibraryModel[]> {
  const models = await em.find(ModelEntity, {}, { orderBy: { name: 'asc' } });
  const vehicles = new Map(
    (
      await em.execute<{ model_id: string; vehicles: number }[]>(
        'select model_id, count(*)::int as vehicles from vehicle group by model_id',
      )
    ).map(({ model_id, vehicles: count }) => [model_id, count]),
  );
  const axles = await em.execute<AxleCount[]>(
    `select a.model_id, a.axle, a.brake, a.brake_detail,
       (select count(*)::int from specification s where s.model_id = a.model_id and s.axle = a.axle
         and s.released_revision_id is not null) as released,
       (select count(*)::int from specification s where s.model_id = a.model_id and s.axle = a.axle
         and s.open_revision_id is not null) as open,
       (select count(*)::int from joint_kind k where k.expected and (k.brake is null or k.brake = a.brake)
         and not exists (select 1 from specification s where s.model_id = a.model_id and s.axle = a.axle
           and s.joint_kind_id = k.id and s.released_revision_id is not null)) as lacking
     from model_axle a order by a.model_id, a.axle`,
  );
  const byModel = groupBy(axles, ({ model_id }) => model_id);
  return models.map((model) => ({
    id: model.id,
    name: model.name,
    class: model.class,
    gvwrKg: model.gvwrKg,
    fitment: fitmentOf(model),
    vehicles: vehicles.get(model.id) ?? 0,
    axles: (byModel.get(model.id) ?? []).map(({ axle, brake, brake_detail, released, lacking, open }) => ({
      axle,
      brake,
      detail: brake_detail,
      released,
      lacking,
      open,
    })),
  }));
}

const FITMENT = ['drive', 'wheelbase_mm', 'built_from', 'built_to', 'axle_option'] as const;
const fitmentCells = ({ drive, wheelbaseMm, builtFrom, builtTo, axleOption }: Fitment) => [
  drive,
  wheelbaseMm,
  builtFrom,
  builtTo,
  axleOption,
];

/** Says what tells a variant from its sisters. */
export async function changeFitment(
  em: EntityManager,
  actor: Actor,
  modelId: string,
  fitment: Fitment,
): Promise<{ id: string }> {
  mustBeAllowed(actor, 'register');
  await em.transactional(async (inner) => {
    const model = await inner.findOne(ModelEntity, { id: modelId });
    if (!model) throw new Refusal('not_found', 'There is no such model on record.');
    await inner.execute(`update model set ${FITMENT.map((column) => `${column} = ?`).join(', ')} where id = ?`, [
      ...fitmentCells(fitment),
      modelId,
    ]);
    await recordDeed(inner, actor.id, 'said the fitment of a model', `model/${modelId}`, {
      before: fitmentOf(model),
      after: fitment,
    });
  });
  return { id: modelId };
}

/** Puts another variant of a model on record: masses and axles are copied, specifications are its own. */
export async function addVariant(
  em: EntityManager,
  actor: Actor,
  modelId: string,
  { id, name, fitment }: { id: string; name: string; fitment: Fitment },
): Promise<{ id: string }> {
  mustBeAllowed(actor, 'register');
  await em.transactional(async (inner) => {
    const [there] = await inner.execute<{ id: string }[]>('select id from model where lower(name) = lower(?)', [name]);
    if (there?.id === id) return;
    if (there) throw refuseField('name', `There is a model “${name}” already; another name is accepted.`);
    const added = await inner.execute<{ id: string }[]>(
      `insert into model (id, name, class, tare_kg, gvwr_kg, reference_duty_id, ${FITMENT.join(', ')})
       select ?, ?, class, tare_kg, gvwr_kg, reference_duty_id, ?, ?, ?, ?, ? from model where id = ? returning id`,
      [id, name, ...fitmentCells(fitment), modelId],
    );
    if (added.length === 0) throw new Refusal('not_found', 'There is no such model on record.');
    await inner.execute(
      `insert into model_axle (id, model_id, axle, brake, brake_detail, pad_new_um, backing_plate_um, pad_maker_min_um,
         rotor_new_um, rotor_discard_um, rotor_machine_to_um, pistons_mm, brake_share)
       select gen_random_uuid(), ?, axle, brake, brake_detail, pad_new_um, backing_plate_um, pad_maker_min_um,
         rotor_new_um, rotor_discard_um, rotor_machine_to_um, pistons_mm, brake_share from model_axle where model_id = ?`,
      [id, modelId],
    );
    await recordDeed(inner, actor.id, 'put a variant on record', `model/${id}`, { of: modelId, name });
  });
  return { id };
}

/** Says which variant a vehicle is; its forecast is made anew. */
export async function changeModel(
  em: EntityManager,
  actor: Actor,
  unit: string,
  modelName: string,
  today: string,
): Promise<{ id: string }> {
  mustBeAllowed(actor, 'register');
  const vehicle = await vehicleOfUnit(em, unit, 'unit');
  await em.transactional(async (inner) => {
    const [model] = await inner.execute<{ id: string; class: string }[]>(
      'select id, class from model where lower(name) = lower(?)',
      [modelName],
    );
    if (!model)
      throw refuseField('model', `There is no model “${modelName}” on record; one of the library is accepted.`);
    const [own] = await inner.execute<{ model_id: string; axles: string; wanted: string }[]>(
      `select v.model_id, (select string_agg(axle || brake, ',' order by axle) from model_axle where model_id = v.model_id) as axles,
         (select string_agg(axle || brake, ',' order by axle) from model_axle where model_id = ?) as wanted
       from vehicle v where v.id = ? for update of v`,
      [model.id, vehicle.id],
    );
    if (!own || own.model_id === model.id) return;
    if (own.axles !== own.wanted)
      throw refuseField(
        'model',
        `${modelName} has other axles or brakes than ${vehicle.unit}; a variant with the same is accepted.`,
      );
    await inner.execute('update vehicle set model_id = ? where id = ?', [model.id, vehicle.id]);
    await inner.execute(
      'insert into vehicle_model_change (vehicle_id, from_model_id, to_model_id, person_id, changed_on) values (?, ?, ?, ?, ?::date)',
      [vehicle.id, own.model_id, model.id, actor.id, today],
    );
    await bumpInputs(inner, [vehicle.id]);
    await recordDeed(inner, actor.id, 'said which variant a vehicle is', `vehicle/${vehicle.id}`, { model: modelName });
  });
  return { id: vehicle.id };
}
