import { failureInWords } from '@mile-mark/contract/words';
import type { z } from 'zod';
import type { InspectionSaved, NewInspection } from '@mile-mark/contract/inspections';
import { milesToMetres, parseThickness, type ReadingJudgement, type ThicknessUnit } from '@mile-mark/core';
import { readingsKept } from '../../../events.ts';
import { command, type Transaction } from '../../../platform/command/command.ts';
import { shared } from '../../../platform/answers/shared.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { invalidField } from '../../../platform/errors.ts';
import { keepJudged, readingInputOf } from '../../forecasts/index.ts';
import { GaugeEntity, type GaugeRow } from '../../gauges/index.ts';
import { MEASURERS, PersonEntity } from '../../people/index.ts';
import {
  lockVehicleOfUnit,
  type ModelAxleRow,
  modelsAndDuties,
  parseOdometer,
  refuseAfterDeparture,
  refuseFuture,
  odometersKnown,
  type OdometersKnown,
  type OnInstrumentNow,
  type VehicleRow,
} from '../../register/index.ts';
import { InspectionEntity, ReadingEntity } from '../entities.ts';
import { judgeAmongRecord } from '../judge.ts';
import { impossibleThickness } from '../thickness.ts';
import { paceOf } from '../pace.ts';
import { refuseChangedMeanwhile, refuseUnknownAxles, saveBesides } from './capture.ts';

type Entry = z.output<typeof NewInspection>;

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

/**
 * Saves one inspection: parses, judges against what was expected, stores values with what was typed. The same
 * readings under another id are a conflict.
 */
export const saveInspection = command({
  name: 'addReadings',
  action: 'measure',
  clientId: { field: 'inspection.id', of: ({ inspection }: Entry) => inspection.id },
  run: enterInspection,
});

/** Enters an inspection within a transaction: as it came from a device, or moved here from another vehicle. */
export async function enterInspection(tx: Transaction, entry: Entry): Promise<InspectionSaved> {
  const { em, today } = tx;
  const vehicle = await lockVehicleOfUnit(em, entry.inspection.unit, 'inspection.unit');
  const [{ technicianId, gauge }, { axlesOf }] = await Promise.all([whoAndWith(tx, entry), modelsAndDuties(em)]);
  refuseFuture(entry.inspection.date, today, 'inspection.date');
  refuseAfterDeparture(vehicle, entry.inspection.date, 'inspection.date');
  const axles = axlesOf.get(vehicle.modelId) ?? [];
  refuseUnknownAxles(entry, axles);
  const readings = parseReadings(entry, axles, gauge);
  await refuseChangedMeanwhile(em, vehicle, entry);
  const against = await odometersKnown(em, vehicle.id);
  const odometerM = await odometerOf(tx, vehicle, entry, against);
  const visit = { ...entry.inspection, technicianId, odometerM };
  const judged = await judgeNew(em, vehicle, visit, { readings, gauge, now: against.now }, today);
  await keepInspection(tx, vehicle, entry, visit, against);
  await saveBesides(em, vehicle, entry);
  await keepReadings(tx, vehicle, visit, readings);
  await tx.audit('entered an inspection', `vehicle/${vehicle.id}`, {
    inspection: entry.inspection.id,
    readings: readings.length,
  });
  await tx.emit(readingsKept({ vehicleIds: [vehicle.id] }));
  await keepJudged(
    em,
    vehicle.id,
    readings.flatMap(({ id }) => judged.get(id) ?? []),
  );
  return {
    inspectionId: entry.inspection.id,
    unit: vehicle.unit,
    readings: readings.map(({ id, mm }) => {
      const suspicion = judged.get(id)?.suspicion;
      return { id, mm: Math.round(mm * 1000) / 1000, ...(suspicion ? { suspicion } : {}) };
    }),
  };
}

/** Who measures, and gauges. */
const measurersAndGauges = (em: EntityManager) =>
  shared(em, 'who measures and with what', async () => {
    const own = em.fork({ keepTransactionContext: true });
    const technicians = await own.find(PersonEntity, { role: { $in: MEASURERS } });
    const gauges = await own.find(GaugeEntity, {});
    return {
      technicians: new Map(technicians.map((one) => [one.id, one])),
      gauges: new Map(gauges.map((one) => [one.id, one])),
    };
  });

/** Who measured and with what; refuses either field where it is not on record. */
async function whoAndWith(
  { em, actor }: Transaction,
  { inspection }: Entry,
): Promise<{ technicianId: string; gauge: GaugeRow }> {
  const { technicians, gauges } = await measurersAndGauges(em);
  const technician = technicians.get(inspection.technicianId ?? actor.id);
  if (!technician)
    throw invalidField(
      'inspection.technicianId',
      'Nobody who measures has this id; a technician on record is accepted.',
    );
  const gauge = gauges.get(inspection.gaugeId);
  if (!gauge)
    throw invalidField('inspection.gaugeId', 'There is no such gauge on record; one of the gauge list is accepted.');
  // A device that was away may still name an entry that turned out to be somebody else's.
  return { technicianId: technician.mergedInto ?? technician.id, gauge };
}

function odometerOf(
  { em }: Transaction,
  vehicle: VehicleRow,
  { inspection }: Entry,
  against: OdometersKnown,
): Promise<number> {
  return parseOdometer(em, {
    against,
    typed: String(inspection.odometer),
    unit: inspection.odometerUnit,
    vehicleId: vehicle.id,
    date: inspection.date,
    field: 'inspection.odometer',
  });
}

interface Visit {
  id: string;
  date: string;
  technicianId: string;
  odometerM: number;
}

async function keepInspection(
  { em, actor }: Transaction,
  vehicle: VehicleRow,
  { inspection }: Entry,
  { technicianId, odometerM }: Visit,
  against: OdometersKnown,
): Promise<void> {
  const pace = await paceOf(em, vehicle.id, { date: inspection.date, odometerM }, against);
  await em.insert(InspectionEntity, {
    id: inspection.id,
    vehicleId: vehicle.id,
    technicianId,
    gaugeId: inspection.gaugeId,
    measuredOn: inspection.date,
    odometerM,
    odometerTyped: String(inspection.odometer),
    note: inspection.note ?? null,
    enteredBy: actor.id,
    enteredAt: new Date(),
    odometerAnswer: pace ? (inspection.odometerAnswer ?? null) : null,
    usualMilesPerDay: pace?.usualPerDay ?? null,
    expectedOdometerM: pace ? Math.round(milesToMetres(pace.expectedMi)) : null,
  });
}

async function keepReadings(
  { em, actor }: Transaction,
  vehicle: VehicleRow,
  { id, date, technicianId, odometerM }: Visit,
  readings: readonly ParsedReading[],
): Promise<void> {
  const shared = { inspectionId: id, vehicleId: vehicle.id, technicianId, measuredOn: date, odometerM };
  await em.insertMany(
    ReadingEntity,
    readings.map(({ mm, ...reading }) => ({
      ...reading,
      ...shared,
      thicknessUm: Math.round(mm * 1000),
      enteredBy: actor.id,
      enteredAt: new Date(),
    })),
  );
}

function parseReadings(entry: Entry, axles: ModelAxleRow[], gauge: GaugeRow): ParsedReading[] {
  return entry.readings.map((reading, index) => {
    const field = `readings.${index}.thickness`;
    const axle = axles.find((one) => one.axle === reading.axle);
    if (!axle) {
      throw invalidField(
        `readings.${index}.axle`,
        `This model has no axle ${reading.axle}; ${axles.map((one) => one.axle).join(', ')} are accepted.`,
      );
    }
    const typed = String(reading.thickness);
    const parsed = parseThickness(typed, { unit: reading.thicknessUnit ?? (gauge.unit as ThicknessUnit) });
    if (!parsed.ok) throw invalidField(field, failureInWords(parsed.failure));
    const impossible = impossibleThickness(parsed.value.mm, typed, axle);
    if (impossible) throw invalidField(field, impossible);
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
  { readings, gauge, now }: { readings: ParsedReading[]; gauge: GaugeRow; now: OnInstrumentNow },
  today: string,
): Promise<Map<string, ReadingJudgement>> {
  const added = readings.map((reading) =>
    readingInputOf({
      id: reading.id,
      vehicle_id: vehicle.id,
      technician_id: inspection.technicianId,
      measured_on: inspection.date,
      odometer_m: now(vehicle.id, inspection.date, inspection.odometerM),
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
