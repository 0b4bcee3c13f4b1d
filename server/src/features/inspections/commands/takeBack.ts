import { mayDo } from '@mile-mark/contract';
import type { FindingWithdrawal, InspectionWithdrawal, NewInspection } from '@mile-mark/contract/inspections';
import { findingOf, metresToMiles, milesToMetres, parseDistance } from '@mile-mark/core';
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { readingCorrected } from '../../../events.ts';
import { mustBeOwn } from '../../../platform/auth/own.ts';
import type { Actor } from '../../../platform/auth/policy.ts';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { uuidArray } from '../../../platform/db/uuidArray.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { lockVehicle, vehicleOfUnit } from '../../register/index.ts';
import {
  FindingEntity,
  FindingWithdrawalEntity,
  InspectionEntity,
  type InspectionRow,
  InspectionWithdrawalEntity,
  ReadingEntity,
  type ReadingRow,
  RotorMeasurementEntity,
  UnseenPadEntity,
} from '../entities.ts';
import { liveReadings } from './correctOdometer.ts';
import { enterInspection } from './saveInspection.ts';

/** What forbids driving is not made to go away by the one who found it; at another vehicle it goes on forbidding. */
function mustNotForbid(actor: Actor, findings: readonly { item: string; state: string }[]): void {
  if (mayDo(actor.role, 'decide')) return;
  const forbids = findings.find(({ item, state }) => findingOf(item, state)?.severity === 'do not drive');
  if (forbids)
    throw new ApiError(
      'forbidden',
      `${forbids.item} ${forbids.state} forbids driving: the coordinator withdraws it. Moving it to the right vehicle is accepted.`,
    );
}

/** The same of a pad under the law's minimum. */
export async function mustNotLift(em: EntityManager, actor: Actor, readings: readonly ReadingRow[]): Promise<void> {
  if (mayDo(actor.role, 'decide')) return;
  const [forbids] = await rowsOf(
    em,
    z.object({ state: z.string().nullable() }),
    `select d.state from defect d where d.source_id = any(?::uuid[]) and d.severity = 'do not drive'
       and not exists (select 1 from defect_settlement s where s.defect_id = d.id and s.how = 'closed') limit 1`,
    [uuidArray(readings.map(({ id }) => id))],
  );
  if (forbids)
    throw new ApiError(
      'forbidden',
      `${forbids.state ?? 'A pad'} forbids driving: the coordinator withdraws it. Moving it to the right vehicle is accepted.`,
    );
}

/**
 * Takes a whole inspection back: readings, findings, odometer, rotors and photos no longer count and stay to be seen;
 * moved, the same is entered at the vehicle that was meant, in the same transaction.
 */
export const withdrawInspection = command({
  name: 'withdrawInspection',
  action: 'measure',
  clientId: 'id',
  run: async (tx, input: z.output<typeof InspectionWithdrawal> & { inspectionId: string }) => {
    const { em, actor, audit, emit } = tx;
    const { id, reason } = input;
    const old = await em.findOne(InspectionEntity, { id: input.inspectionId });
    if (!old) throw new ApiError('not_found', 'There is no such inspection on record.');
    const target = input.moveTo === undefined ? undefined : await vehicleOfUnit(em, input.moveTo, 'moveTo');
    if (target?.id === old.vehicleId)
      throw invalidField('moveTo', `It is of ${target.unit} already; another unit is accepted.`);
    await lockVehicle(em, old.vehicleId, ...(target ? [target.id] : []));
    await refuseGone(em, old);
    mustBeOwn(actor, { by: [old.enteredBy, old.technicianId], at: old.enteredAt });
    const chain = await chainOf(em, old.id);
    const besides = await besidesOf(em, chain);
    const readings = (await liveReadings(em, old.id)).filter(({ thicknessUm }) => thicknessUm != null);
    if (!target) {
      mustNotForbid(actor, besides.findings);
      await mustNotLift(em, actor, readings);
    }
    await em.insertMany(
      ReadingEntity,
      readings.map((reading) => withdrawn(reading, actor, reason)),
    );
    const movedTo = target ? randomUUID() : null;
    const own = { personId: actor.id, reason, at: new Date() };
    // The one it was moved to is on record only a moment later: who looks for it finds it by then.
    if (target && movedTo) {
      await em.insertMany(
        InspectionWithdrawalEntity,
        chain
          .filter((one) => one !== old.id)
          .map((inspectionId) => ({ id: randomUUID(), inspectionId, movedTo: null, ...own })),
      );
      await enterInspection(tx, entryOf(old, { id: movedTo, unit: target.unit, readings, besides, input }));
      await copyPhotos(em, chain, movedTo, target.id);
      await em.insert(InspectionWithdrawalEntity, { id, inspectionId: old.id, movedTo, ...own });
    } else
      await em.insertMany(
        InspectionWithdrawalEntity,
        chain.map((inspectionId) => ({
          id: inspectionId === old.id ? id : randomUUID(),
          inspectionId,
          movedTo,
          ...own,
        })),
      );
    await audit(target ? 'moved an inspection' : 'withdrew an inspection', `vehicle/${old.vehicleId}`, {
      inspection: old.id,
      reason,
      ...(target ? { to: `vehicle/${target.id}` } : {}),
    });
    await emit(readingCorrected({ vehicleIds: [old.vehicleId] }));
    return { id };
  },
});

/** Takes one finding back; what it raised is closed with it. */
export const withdrawFinding = command({
  name: 'withdrawFinding',
  action: 'measure',
  clientId: 'id',
  run: async (tx, { id, reason, findingId }: z.output<typeof FindingWithdrawal> & { findingId: string }) => {
    const { em, actor, audit, emit } = tx;
    const finding = await em.findOne(FindingEntity, { id: findingId });
    if (!finding) throw new ApiError('not_found', 'There is no such finding on record.');
    const inspection = await em.findOneOrFail(InspectionEntity, { id: finding.inspectionId });
    await lockVehicle(em, finding.vehicleId);
    if (await em.findOne(FindingWithdrawalEntity, { findingId }))
      throw new ApiError('conflict', 'Somebody withdrew this finding meanwhile.');
    mustBeOwn(actor, { by: [inspection.enteredBy, inspection.technicianId], at: inspection.enteredAt });
    mustNotForbid(actor, [finding]);
    await em.insert(FindingWithdrawalEntity, { id, findingId, reason, personId: actor.id, at: new Date() });
    await audit('withdrew a finding', `vehicle/${finding.vehicleId}`, { finding: findingId, reason });
    await emit(readingCorrected({ vehicleIds: [finding.vehicleId] }));
    return { id };
  },
});

async function refuseGone(em: EntityManager, old: InspectionRow): Promise<void> {
  if (await em.findOne(InspectionWithdrawalEntity, { inspectionId: old.id }))
    throw new ApiError('conflict', 'Somebody took this inspection back meanwhile.');
  if (await em.findOne(InspectionEntity, { supersedesId: old.id }))
    throw new ApiError('conflict', 'This inspection was entered anew meanwhile; the later one can be taken back.');
}

/** An inspection with those it supersedes: findings and photos hang on the first. */
async function chainOf(em: EntityManager, id: string): Promise<string[]> {
  const rows = await rowsOf(
    em,
    z.object({ id: z.string() }),
    `with recursive chain as (select id, supersedes_id from inspection where id = ?
       union all select i.id, i.supersedes_id from inspection i join chain c on i.id = c.supersedes_id) select id from chain`,
    [id],
  );
  return rows.map((row) => row.id);
}

async function besidesOf(em: EntityManager, chain: string[]) {
  const own = { inspectionId: { $in: chain } };
  const findings = await em.find(FindingEntity, own);
  const gone = await em.find(FindingWithdrawalEntity, { findingId: { $in: findings.map(({ id }) => id) } });
  return {
    findings: findings.filter(({ id }) => !gone.some(({ findingId }) => findingId === id)),
    rotors: await em.find(RotorMeasurementEntity, own),
    unseen: await em.find(UnseenPadEntity, own),
  };
}

/** What takes the place of a reading that no longer counts. */
export function withdrawn(old: ReadingRow, actor: Actor, reason: string) {
  const { inspectionId, vehicleId, technicianId, measuredOn, odometerM, axle, side, pad, unit } = old;
  return {
    ...{
      id: randomUUID(),
      inspectionId,
      vehicleId,
      technicianId,
      measuredOn,
      odometerM,
      axle,
      side,
      pad,
      unit,
      reason,
    },
    thicknessUm: null,
    typed: '',
    supersedesId: old.id,
    enteredBy: actor.id,
    enteredAt: new Date(),
  };
}

interface Moved {
  id: string;
  unit: string;
  readings: readonly ReadingRow[];
  besides: Awaited<ReturnType<typeof besidesOf>>;
  input: z.output<typeof InspectionWithdrawal>;
}

/** The same inspection at another vehicle, as a device would send it; ids are new, figures as they were typed. */
function entryOf(old: InspectionRow, { id, unit, readings, besides, input }: Moved): z.output<typeof NewInspection> {
  const at = ({ axle, side }: { axle: number; side: string }) => ({
    id: randomUUID(),
    axle,
    side: side as 'left' | 'right',
  });
  const pad = (one: { pad: string }) => one.pad as 'inner' | 'outer';
  return {
    inspection: {
      id,
      unit,
      technicianId: old.technicianId,
      gaugeId: old.gaugeId,
      date: old.measuredOn,
      odometer: input.odometer ?? old.odometerTyped,
      odometerUnit: input.odometer === undefined ? unitTyped(old) : (input.odometerUnit ?? 'mi'),
      ...(old.note == null ? {} : { note: old.note }),
    },
    readings: readings.map((one) => ({
      ...at(one),
      pad: pad(one),
      thickness: one.typed,
      thicknessUnit: one.unit as 'mm',
      ...(one.answer == null ? {} : { answer: one.answer as 'measured_twice' }),
    })),
    unseen: besides.unseen.map((one) => ({ ...at(one), pad: pad(one) })),
    findings: besides.findings.map(({ item, state, places, degree, note, ...one }) => ({
      ...at(one),
      item: item as 'pins',
      state,
      places,
      ...(degree == null ? {} : { degree: degree as 'slight' }),
      ...(note == null ? {} : { note }),
    })),
    rotors: besides.rotors.map(({ thicknessUm, runoutUm, hubRunoutUm, studs, ...one }) => ({
      ...at(one),
      thicknessUm,
      runoutUm: runoutUm as number[],
      hubRunoutUm: hubRunoutUm as number[],
      ...(studs == null ? {} : { studs }),
    })),
  };
}

/** In which unit an odometer was typed: the one that gives what is on record. */
function unitTyped({ odometerTyped, odometerM }: InspectionRow): 'mi' | 'km' {
  const asMiles = parseDistance(odometerTyped, { unit: 'mi' });
  const same = asMiles.ok && Math.abs(asMiles.value.metres - odometerM) <= milesToMetres(1);
  return same || Math.abs(metresToMiles(odometerM)) < 1 ? 'mi' : 'km';
}

async function copyPhotos(em: EntityManager, chain: string[], movedTo: string, vehicleId: string): Promise<void> {
  await em.execute(
    `insert into photo (id, inspection_id, vehicle_id, axle, side, taken_at, jpeg, entered_by, entered_at)
     select gen_random_uuid(), ?, ?, axle, side, taken_at, jpeg, entered_by, entered_at from photo where inspection_id = any(?::uuid[])`,
    [movedTo, vehicleId, uuidArray(chain)],
  );
}
