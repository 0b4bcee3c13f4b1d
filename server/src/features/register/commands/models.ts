import type { AxleFigures, ModelCorrection, NewModel } from '@mile-mark/contract/register';
import { LockMode } from '@mikro-orm/core';
import { buildOf } from '@mile-mark/core';
import { z } from 'zod';
import { modelCorrected } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { ModelAxleEntity, type ModelAxleRow, ModelEntity, VehicleEntity } from '../entities.ts';
import { idByName } from '../lookups.ts';
import { figuresOfAxle } from '../queries/modelFigures.ts';
import { raised } from '../revision.ts';

const um = (mm: number | null) => (mm === null ? null : Math.round(mm * 1000));

/** Figures of an axle as they are kept. */
function rowOf(axle: z.output<typeof AxleFigures>) {
  return {
    axle: axle.axle,
    brake: axle.brake,
    brakeDetail: axle.brakeDetail,
    padNewUm: Math.round(axle.padNewMm * 1000),
    backingPlateUm: Math.round(axle.backingPlateMm * 1000),
    padMakerMinUm: Math.round(axle.padMakerMinMm * 1000),
    rotorNewUm: um(axle.rotorNewMm),
    rotorDiscardUm: um(axle.rotorDiscardMm),
    rotorMachineToUm: um(axle.rotorMachineToMm),
    rotorDiameterUm: um(axle.rotorDiameterMm),
    pistonsMm: axle.pistonsMm === '' ? null : axle.pistonsMm,
    brakeShare: axle.brakeShare,
  };
}

export const addModel = command({
  name: 'addModel',
  action: 'register',
  clientId: 'id',
  run: async ({ em, audit }, input: z.output<typeof NewModel>) => {
    const { id, name, axles, tareKg, gvwrKg } = input;
    await refuseName(em, name);
    axles.forEach((axle, index) => refuseOtherBrake(axle, index));
    const own = { name, class: input.class, tareKg, gvwrKg, retarder: input.class === 'heavy', revision: 1 };
    await em.insert(ModelEntity, { id, ...own });
    for (const axle of axles)
      await em.insert(ModelAxleEntity, { id: crypto.randomUUID(), modelId: id, ...rowOf(axle) });
    await audit('put a model on record', `model/${id}`, { ...own, axles });
    return { id };
  },
});

async function refuseName(em: EntityManager, name: string, own?: string): Promise<void> {
  const other = await idByName(em, 'model', name);
  if (other && other !== own)
    throw invalidField('name', `There is a model “${name}” already; another name is accepted.`);
}

/** The words of a brake say of which kind it is. */
function refuseOtherBrake({ brake, brakeDetail }: z.output<typeof AxleFigures>, index: number): void {
  const saysAir = /\bair\b/i.test(brakeDetail);
  if (saysAir !== (brake === 'air'))
    throw invalidField(
      `axles.${index}.brakeDetail`,
      saysAir
        ? 'These words say air; the brake is hydraulic.'
        : 'Words such as “air disc” are accepted for an air brake.',
    );
}

type Correction = z.output<typeof ModelCorrection> & { modelId: string };

/**
 * Corrects what the model list says of a model, with a reason; what was there before stays in the trail. Marks that rest
 * on it are made anew. An axle may be added; one that readings rest on neither goes nor becomes of another kind.
 */
export const correctModel = command({
  name: 'correctModel',
  action: 'register',
  revisionOf: async (em, { modelId, revision }: Correction) => {
    const [row] = await em.find(ModelEntity, { id: modelId }, { lockMode: LockMode.PESSIMISTIC_WRITE, refresh: true });
    if (!row) throw new ApiError('not_found', 'There is no such model on record.');
    return { seen: revision, onRecord: row.revision };
  },
  run: async ({ em, audit, emit, changedNothing }, input: Correction) => {
    const { modelId, name, tareKg, gvwrKg, reason } = input;
    const model = await em.findOneOrFail(ModelEntity, { id: modelId }, { refresh: true });
    const axles = await em.find(ModelAxleEntity, { modelId }, { orderBy: { axle: 'asc' }, refresh: true });
    const figures = { name: model.name, class: model.class, tareKg: model.tareKg, gvwrKg: model.gvwrKg };
    const changed = differences<Record<string, unknown>>(figures, { name, class: input.class, tareKg, gvwrKg });
    const axlesChanged = input.axles.flatMap((axle) => {
      const known = axles.find((own) => own.axle === axle.axle);
      const other = differences(known ? figuresOfAxle(known) : {}, axle);
      return Object.keys(other.now).length > 0 ? [{ axle: axle.axle, ...other }] : [];
    });
    const gone = axles.filter(({ axle }) => !input.axles.some((said) => said.axle === axle));
    if (Object.keys(changed.now).length === 0 && axlesChanged.length === 0 && gone.length === 0)
      return (changedNothing(), { id: modelId });
    await refuseName(em, name, modelId);
    await mayChange(em, modelId, input.axles, axles);
    for (const axle of gone) await em.nativeDelete(ModelAxleEntity, { id: axle.id });
    for (const axle of input.axles) {
      const known = axles.find((own) => own.axle === axle.axle);
      if (known) await em.nativeUpdate(ModelAxleEntity, { id: known.id }, rowOf(axle));
      else await em.insert(ModelAxleEntity, { id: crypto.randomUUID(), modelId, ...rowOf(axle) });
    }
    await em.nativeUpdate(
      ModelEntity,
      { id: modelId },
      { name, class: input.class, tareKg, gvwrKg, ...raised(model.revision) },
    );
    await audit('corrected a model', `model/${modelId}`, {
      reason,
      ...changed,
      axles: axlesChanged,
      gone: gone.map(figuresOfAxle),
    });
    const vehicles = await em.find(VehicleEntity, { modelId });
    await emit(modelCorrected({ vehicleIds: vehicles.map(({ id }) => id) }));
    return { id: modelId };
  },
});

/** What two descriptions say otherwise, by field. */
function differences<T extends object>(was: Partial<T>, now: T): { was: Partial<T>; now: Partial<T> } {
  const changed = (Object.keys(now) as (keyof T)[]).filter((key) => (was[key] ?? null) !== (now[key] ?? null));
  const of = (one: Partial<T>) => Object.fromEntries(changed.map((key) => [key, one[key] ?? null])) as Partial<T>;
  return { was: of(was), now: of(now) };
}

const RESTS = `
  select distinct axle from (
    select r.axle from reading r join vehicle v on v.id = r.vehicle_id where v.model_id = ?
    union all select s.axle from service_record s join vehicle v on v.id = s.vehicle_id where v.model_id = ?
    union all select a.axle from job_axle a join job j on j.id = a.job_id join vehicle v on v.id = j.vehicle_id where v.model_id = ?
    union all select s.axle from specification s where s.model_id = ?) known`;

/** Axles of a model that something on record rests on. */
async function axlesInUse(em: EntityManager, modelId: string): Promise<Set<number>> {
  const rows = await rowsOf(em, z.object({ axle: z.int() }), RESTS, Array<string>(4).fill(modelId));
  return new Set(rows.map(({ axle }) => axle));
}

async function mayChange(
  em: EntityManager,
  modelId: string,
  said: readonly z.output<typeof AxleFigures>[],
  axles: readonly ModelAxleRow[],
): Promise<void> {
  const used = await axlesInUse(em, modelId);
  for (const known of axles) {
    const index = said.findIndex(({ axle }) => axle === known.axle);
    const axle = said[index];
    if (!axle) {
      if (used.has(known.axle))
        throw invalidField('axles', `Axle ${known.axle} stays: readings, work or specifications are on record for it.`);
    } else if (axle.brake !== known.brake && used.has(known.axle))
      throw invalidField(
        `axles.${index}.brake`,
        `Axle ${known.axle} stays ${known.brake}: readings, work or specifications rest on it. What is built otherwise is another model.`,
      );
  }
  said.forEach((axle, index) => {
    const known = axles.find((own) => own.axle === axle.axle);
    const alike =
      known &&
      JSON.stringify(buildOf(axle.brake, axle.brakeDetail)) === JSON.stringify(buildOf(axle.brake, known.brakeDetail));
    if (!alike) refuseOtherBrake(axle, index);
  });
}
