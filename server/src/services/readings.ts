import { createHash } from 'node:crypto';
import type { z } from 'zod';
import type { Correction, InspectionSaved, NewInspection, NewService } from '@mile-mark/contract';
import {
  handKeyOf,
  milesToMetres,
  mostReadableMm,
  parseThickness,
  runHistory,
  type ReadingInput,
  type ReadingJudgement,
  type ThicknessUnit,
} from '@mile-mark/core';
import { mustBeAllowed, type Actor } from '../auth/policy.ts';
import {
  GaugeEntity,
  InspectionEntity,
  ModelAxleEntity,
  PersonEntity,
  ReadingEntity,
  ServiceEntity,
  type GaugeRow,
  type ModelAxleRow,
  type ReadingRow,
  type VehicleRow,
} from '../db/entities.ts';
import { readingInputOf, vehicleInputOf } from '../db/mappers.ts';
import type { EntityManager } from '../db/orm.ts';
import { Refusal, refuseField } from '../errors.ts';
import { recordDeed } from './audit.ts';
import { paceOf, refuseChangedMeanwhile, refuseUnknownAxles, saveBesides } from './capture.ts';
import { bumpInputs, parseOdometer, refuseFuture, vehicleOfUnit } from './lookups.ts';
import { loadForecastGround, loadVehicleRecords } from './vehicleRecords.ts';

type Entry = z.output<typeof NewInspection>;

/** Why a thickness can't be one of this axle's pads, in words; undefined where it can. */
export function impossibleThickness(mm: number, typed: string, axle: ModelAxleRow): string | undefined {
  const most = mostReadableMm({ newMm: axle.padNewUm / 1000, plateMm: axle.backingPlateUm / 1000 });
  if (mm <= most) return undefined;
  const tenth = /^\d{2,3}$/.test(typed.trim())
    ? ` Is a decimal mark missing (${typed.trim().slice(0, -1)}.${typed.trim().slice(-1)})?`
    : '';
  return `${typed.trim()} is ${mm.toFixed(1)} mm, more than pad and backing plate together (${axle.padNewUm / 1000} + ${axle.backingPlateUm / 1000} mm); up to ${most.toFixed(1)} mm is accepted.${tenth}`;
}

interface ParsedReading {
  id: string;
  axle: number;
  side: 'left' | 'right';
  pad: 'inner' | 'outer';
  mm: number;
  typed: string;
  unit: ThicknessUnit;
  answer: string | null;
}

/** What was saved, and whether it was saved now or by an earlier try. */
export interface Saved {
  reply: InspectionSaved;
  vehicleId: string;
  replayed: boolean;
}

/**
 * Saves one inspection: parses, judges against what was expected, stores values with what was typed. A
 * repeat with the same ids and content answers as the first did; the same id with other content is a
 * conflict; the same readings under another id are one too.
 */
export async function saveInspection(em: EntityManager, actor: Actor, entry: Entry, today: string): Promise<Saved> {
  mustBeAllowed(actor, 'measure');
  const requestHash = createHash('sha256').update(JSON.stringify(entry)).digest('hex');
  const earlier = await replyOf(em, entry.inspection.id, requestHash);
  if (earlier) return earlier;

  const vehicle = await vehicleOfUnit(em, entry.inspection.unit, 'inspection.unit');
  const technicianId = entry.inspection.technicianId ?? actor.id;
  if (!(await em.findOne(PersonEntity, { id: technicianId, role: { $in: ['technician', 'coordinator'] } }))) {
    throw refuseField(
      'inspection.technicianId',
      'Nobody who measures has this id; a technician on record is accepted.',
    );
  }
  const gauge = await em.findOne(GaugeEntity, { id: entry.inspection.gaugeId });
  if (!gauge)
    throw refuseField('inspection.gaugeId', 'There is no such gauge on record; one of the gauge list is accepted.');
  refuseFuture(entry.inspection.date, today, 'inspection.date');
  const axles = await em.find(ModelAxleEntity, { modelId: vehicle.modelId });
  refuseUnknownAxles(entry, axles);
  const readings = parseReadings(entry, axles, gauge);

  try {
    return await em.transactional(async (inner) => {
      await bumpInputs(inner, [vehicle.id]);
      await refuseChangedMeanwhile(inner, vehicle, entry);
      const odometerM = await parseOdometer(inner, {
        typed: String(entry.inspection.odometer),
        unit: entry.inspection.odometerUnit,
        vehicleId: vehicle.id,
        date: entry.inspection.date,
        field: 'inspection.odometer',
      });
      const pace = await paceOf(inner, vehicle.id, entry.inspection.date, odometerM);
      const judged = await judgeNew(
        inner,
        vehicle,
        { ...entry.inspection, technicianId, odometerM },
        readings,
        gauge,
        today,
      );
      await inner.insert(InspectionEntity, {
        id: entry.inspection.id,
        vehicleId: vehicle.id,
        technicianId,
        gaugeId: gauge.id,
        measuredOn: entry.inspection.date,
        odometerM,
        odometerTyped: String(entry.inspection.odometer),
        note: entry.inspection.note ?? null,
        enteredBy: actor.id,
        enteredAt: new Date(),
        odometerAnswer: pace ? (entry.inspection.odometerAnswer ?? null) : null,
        usualMilesPerDay: pace?.usualPerDay ?? null,
        expectedOdometerM: pace ? Math.round(milesToMetres(pace.expectedMi)) : null,
      });
      await saveBesides(inner, vehicle, entry);
      await inner.insertMany(
        ReadingEntity,
        readings.map(({ mm, ...reading }) => ({
          ...reading,
          inspectionId: entry.inspection.id,
          vehicleId: vehicle.id,
          technicianId,
          measuredOn: entry.inspection.date,
          odometerM,
          thicknessUm: Math.round(mm * 1000),
          enteredBy: actor.id,
          enteredAt: new Date(),
        })),
      );
      await recordDeed(inner, actor.id, 'entered an inspection', `vehicle/${vehicle.id}`, {
        inspection: entry.inspection.id,
        readings: readings.length,
      });
      const reply: InspectionSaved = {
        inspectionId: entry.inspection.id,
        unit: vehicle.unit,
        readings: readings.map(({ id, mm }) => {
          const suspicion = judged.get(id)?.suspicion;
          return { id, mm: Math.round(mm * 1000) / 1000, ...(suspicion ? { suspicion } : {}) };
        }),
      };
      await inner.execute('insert into idempotent_reply (id, request_hash, body) values (?, ?, ?::jsonb)', [
        entry.inspection.id,
        requestHash,
        JSON.stringify(reply),
      ]);
      return { reply, vehicleId: vehicle.id, replayed: false };
    });
  } catch (error) {
    // Another process saved the same inspection between our look and our write.
    const meanwhile =
      (error as { code?: string }).code === '23505'
        ? await replyOf(em.fork(), entry.inspection.id, requestHash)
        : undefined;
    if (meanwhile) return meanwhile;
    throw error;
  }
}

async function replyOf(em: EntityManager, id: string, requestHash: string): Promise<Saved | undefined> {
  const [kept] = await em.execute<{ request_hash: string; body: InspectionSaved }[]>(
    'select request_hash, body from idempotent_reply where id = ?',
    [id],
  );
  if (!kept) return undefined;
  if (kept.request_hash !== requestHash) {
    throw new Refusal('conflict', 'An inspection with this id is in already with other content.', [
      { field: 'inspection.id', message: 'A new id is accepted for other content.' },
    ]);
  }
  const inspection = await em.findOneOrFail(InspectionEntity, { id });
  return { reply: kept.body, vehicleId: inspection.vehicleId, replayed: true };
}

function parseReadings(entry: Entry, axles: ModelAxleRow[], gauge: GaugeRow): ParsedReading[] {
  return entry.readings.map((reading, index) => {
    const field = `readings.${index}.thickness`;
    const axle = axles.find((one) => one.axle === reading.axle);
    if (!axle) {
      throw refuseField(
        `readings.${index}.axle`,
        `This model has no axle ${reading.axle}; ${axles.map((one) => one.axle).join(', ')} are accepted.`,
      );
    }
    const typed = String(reading.thickness);
    const parsed = parseThickness(typed, { unit: reading.thicknessUnit ?? (gauge.unit as ThicknessUnit) });
    if (!parsed.ok) throw refuseField(field, parsed.failure.message);
    const impossible = impossibleThickness(parsed.value.mm, typed, axle);
    if (impossible) throw refuseField(field, impossible);
    const { id, side, pad, answer } = reading;
    return {
      id,
      axle: reading.axle,
      side,
      pad,
      mm: parsed.value.mm,
      typed,
      unit: parsed.value.unit,
      answer: answer ?? null,
    };
  });
}

async function judgeNew(
  em: EntityManager,
  vehicle: VehicleRow,
  inspection: { date: string; odometerM: number; technicianId: string },
  readings: ParsedReading[],
  gauge: GaugeRow,
  today: string,
): Promise<Map<string, ReadingJudgement>> {
  const added = readings.map((reading) =>
    readingInputOf({
      id: reading.id,
      vehicle_id: vehicle.id,
      technician_id: inspection.technicianId,
      measured_on: inspection.date,
      odometer_m: inspection.odometerM,
      axle: reading.axle,
      side: reading.side,
      pad: reading.pad,
      thickness_um: reading.mm * 1000,
      unit: reading.unit,
      resolution_um: gauge.resolutionUm,
      gauge_id: gauge.id,
      trust: reading.answer === 'measured_twice' ? 'twice' : 'typed',
    }),
  );
  return judgeAmongRecord(em, vehicle.id, added, today);
}

/** Judges readings of one vehicle that are not in yet among those that are. */
export async function judgeAmongRecord(
  em: EntityManager,
  vehicleId: string,
  added: ReadingInput[],
  today: string,
): Promise<Map<string, ReadingJudgement>> {
  const [record] = await loadVehicleRecords(em, [vehicleId]);
  const ground = await loadForecastGround(em);
  if (!record) return new Map();
  const input = vehicleInputOf(record, ground, today);
  const hands = Object.fromEntries(added.map(handKeyOf).map((key) => [key, ground.handOf(key)]));
  const { judgements } = runHistory({
    ...input,
    hands: { ...input.hands, ...hands },
    readings: [...input.readings, ...added],
  });
  return new Map(judgements.map((judgement) => [judgement.id, judgement]));
}

/** Supersedes a reading by another value, or withdraws it; the old one stays on record. */
export async function correctReading(
  em: EntityManager,
  actor: Actor,
  readingId: string,
  input: z.output<typeof Correction>,
): Promise<{ id: string; vehicleId: string }> {
  mustBeAllowed(actor, 'measure');
  const old = await em.findOne(ReadingEntity, { id: readingId });
  if (!old) throw new Refusal('not_found', 'There is no such reading on record.');
  if (old.thicknessUm == null) throw refuseField('id', 'This reading was withdrawn; measure again instead.');
  if (actor.role === 'technician' && actor.id !== old.technicianId && actor.id !== old.enteredBy) {
    throw new Refusal('forbidden', 'A technician corrects own readings; the coordinator any.');
  }
  const replacement = input.thickness === undefined ? null : await parseReplacement(em, old, input);
  return em.transactional(async (inner) => {
    await bumpInputs(inner, [old.vehicleId]);
    await inner.insert(ReadingEntity, {
      id: input.id,
      inspectionId: old.inspectionId,
      vehicleId: old.vehicleId,
      technicianId: old.technicianId,
      measuredOn: old.measuredOn,
      odometerM: old.odometerM,
      axle: old.axle,
      side: old.side,
      pad: old.pad,
      thicknessUm: replacement?.um ?? null,
      typed: replacement?.typed ?? '',
      unit: replacement?.unit ?? old.unit,
      supersedesId: old.id,
      reason: input.reason,
      enteredBy: actor.id,
      enteredAt: new Date(),
    });
    await recordDeed(
      inner,
      actor.id,
      replacement ? 'corrected a reading' : 'withdrew a reading',
      `vehicle/${old.vehicleId}`,
      {
        reading: old.id,
        by: input.id,
        reason: input.reason,
      },
    );
    return { id: input.id, vehicleId: old.vehicleId };
  });
}

async function parseReplacement(
  em: EntityManager,
  old: ReadingRow,
  input: z.output<typeof Correction>,
): Promise<{ um: number; typed: string; unit: ThicknessUnit }> {
  const typed = String(input.thickness);
  const parsed = parseThickness(typed, { unit: input.thicknessUnit ?? (old.unit as ThicknessUnit) });
  if (!parsed.ok) throw refuseField('thickness', parsed.failure.message);
  const [axle] = await em.execute<{ pad_new_um: number; backing_plate_um: number }[]>(
    'select a.pad_new_um, a.backing_plate_um from model_axle a join vehicle v on v.model_id = a.model_id where v.id = ? and a.axle = ?',
    [old.vehicleId, old.axle],
  );
  if (axle) {
    const row = { padNewUm: axle.pad_new_um, backingPlateUm: axle.backing_plate_um } as ModelAxleRow;
    const impossible = impossibleThickness(parsed.value.mm, typed, row);
    if (impossible) throw refuseField('thickness', impossible);
  }
  return { um: Math.round(parsed.value.mm * 1000), typed, unit: parsed.value.unit };
}

/** Records pads or rotors fitted on both sides of an axle. */
export async function addService(
  em: EntityManager,
  actor: Actor,
  input: z.output<typeof NewService>,
  today: string,
): Promise<{ id: string; vehicleId: string }> {
  mustBeAllowed(actor, 'measure');
  refuseFuture(input.date, today, 'date');
  const vehicle = await vehicleOfUnit(em, input.unit, 'unit');
  if (!(await em.findOne(ModelAxleEntity, { modelId: vehicle.modelId, axle: input.axle }))) {
    throw refuseField('axle', `This model has no axle ${input.axle}.`);
  }
  return em.transactional(async (inner) => {
    await bumpInputs(inner, [vehicle.id]);
    const odometerM = await parseOdometer(inner, {
      typed: input.odometer,
      unit: 'mi',
      vehicleId: vehicle.id,
      date: input.date,
      field: 'odometer',
    });
    await inner.insert(ServiceEntity, {
      id: input.id,
      vehicleId: vehicle.id,
      axle: input.axle,
      fittedOn: input.date,
      odometerM,
      fitted: input.fitted,
      recordedBy: actor.id,
      recordedAt: new Date(),
    });
    await recordDeed(inner, actor.id, 'recorded a service', `vehicle/${vehicle.id}`, {
      axle: input.axle,
      fitted: input.fitted,
    });
    return { id: input.id, vehicleId: vehicle.id };
  });
}
