import type { Understanding } from '@mile-mark/contract/imports';
import { doubtOdometer } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import type { CsvRecord } from '../../platform/documents/csv.ts';
import { ServiceEntity } from '../inspections/index.ts';
import {
  DepotEntity,
  doubtInWords,
  DutyEntity,
  ModelAxleEntity,
  type ModelAxleRow,
  ModelEntity,
  normaliseUnit,
  odometersOnRecord,
  VehicleEntity,
} from '../register/index.ts';
import { type Draft, RowReader } from './assess.ts';
import { complete, refused, sameName, start } from './draft.ts';

export interface ModelRecord {
  model: string;
  class: 'pickup' | 'van' | 'heavy';
  tareKg: number;
  gvwrKg: number;
  axle: number;
  brake: 'hydraulic' | 'air';
  brakeDetail: string;
  padNewUm: number;
  backingPlateUm: number;
  padMakerMinUm: number;
  rotorNewUm: number | null;
  rotorDiscardUm: number | null;
  rotorMachineToUm: number | null;
  rotorDiameterUm: number | null;
  pistonsMm: string | null;
  brakeShare: number;
}

export interface DutyRecord {
  name: string;
  stopsPerMile: number;
  mphBeforeStop: number;
  payloadShare: number;
  descentMPerMile: number;
  retarderShare: number;
  towedKg: number;
  milesPerDay: number;
}

export interface VehicleRecordIn {
  unit: string;
  modelId: string;
  depot: string;
  dutyId: string;
  from: string;
  odometerM: number | null;
}

export interface ServiceRecord {
  vehicleId: string;
  axle: number;
  date: string;
  odometerM: number;
  fitted: 'pads' | 'pads and rotors' | 'rotors';
}

export async function assessModels(
  em: EntityManager,
  rows: readonly CsvRecord[],
  understanding: Understanding,
): Promise<Draft<ModelRecord>[]> {
  const models = await em.find(ModelEntity, {});
  const axles = await em.find(ModelAxleEntity, {});
  const seen = new Map<string, number>();
  return rows.map((row) => {
    const draft = start<ModelRecord>(row);
    if (draft.reasons.length > 0) return draft;
    const reader = new RowReader(row, understanding, draft);
    const um = (field: string, label: string, least: number, most: number) => {
      const value = reader.millimetres(field, label, least, most);
      return value === undefined ? undefined : Math.round(value * 1000);
    };
    const optional = (field: string, label: string, least = 5, most = 100) =>
      reader.text(field) === '' ? null : um(field, label, least, most);
    const brakeDetail = reader.needed('brake', 'The brake');
    const record = complete<ModelRecord>({
      model: reader.needed('model', 'The model'),
      class: readClass(reader),
      tareKg: reader.kilograms('tare_kg', 'Tare', 300, 60_000),
      gvwrKg: reader.kilograms('gvwr_kg', 'GVWR', 300, 100_000),
      axle: reader.whole('axle', 'The axle', 1, 6),
      brake: brakeDetail === undefined ? undefined : /\bair\b/i.test(brakeDetail) ? 'air' : 'hydraulic',
      brakeDetail,
      padNewUm: um('pad_new', 'New pad', 3, 40),
      backingPlateUm: um('backing_plate', 'Backing plate', 0, 20),
      padMakerMinUm: um('pad_maker_min', 'Maker’s least', 0, 39),
      rotorNewUm: optional('rotor_new', 'New rotor'),
      rotorDiscardUm: optional('rotor_discard', 'Rotor discard'),
      rotorMachineToUm: optional('rotor_machine_to', 'Rotor machine-to'),
      rotorDiameterUm: optional('rotor_diameter', 'Rotor diameter', 100, 800),
      pistonsMm: reader.text('pistons') || null,
      brakeShare: reader.number('brake_share', 'Brake share', 0.01, 1),
    });
    if (!record) return draft;
    if (record.gvwrKg <= record.tareKg) return refused(draft, reader, 'gvwr_kg', 'GVWR must be more than tare.');
    if (record.padMakerMinUm >= record.padNewUm)
      return refused(draft, reader, 'pad_maker_min', 'The maker’s least thickness must be less than new.');
    const twin = seen.get(`${record.model.toLowerCase()}/${record.axle}`);
    if (twin !== undefined)
      return refused(draft, reader, 'axle', `Axle ${record.axle} of this model stands in line ${twin} already.`);
    seen.set(`${record.model.toLowerCase()}/${record.axle}`, row.line);
    const model = models.find(({ name }) => sameName(name, record.model));
    const known = model && axles.find(({ modelId, axle }) => modelId === model.id && axle === record.axle);
    if (
      known &&
      known.padNewUm === record.padNewUm &&
      known.padMakerMinUm === record.padMakerMinUm &&
      known.backingPlateUm === record.backingPlateUm &&
      (record.rotorDiameterUm === null || known.rotorDiameterUm === record.rotorDiameterUm)
    )
      draft.already = 1;
    else if (known && onlyDiameterIsNew(known, record)) draft.records.push(record);
    else if (known)
      return refused(
        draft,
        reader,
        'pad_new',
        'This axle is on record with other figures; a row with the same figures, or another model name, is accepted.',
      );
    else draft.records.push(record);
    return draft;
  });
}

/** An axle on record as the row has it, but for a rotor diameter of which nobody has told yet. */
function onlyDiameterIsNew(known: ModelAxleRow, record: ModelRecord): boolean {
  return (
    known.rotorDiameterUm === null &&
    known.padNewUm === record.padNewUm &&
    known.padMakerMinUm === record.padMakerMinUm &&
    known.backingPlateUm === record.backingPlateUm
  );
}

function readClass(reader: RowReader): ModelRecord['class'] | undefined {
  const text = reader.text('class');
  if (/^pick-?up$/i.test(text)) return 'pickup';
  if (/^van$/i.test(text)) return 'van';
  if (/^heavy( duty)?( truck)?$|^truck$/i.test(text)) return 'heavy';
  return reader.refuse('class', `“${text}” is not a class; pickup, van or heavy truck are accepted.`);
}

export async function assessDuties(
  em: EntityManager,
  rows: readonly CsvRecord[],
  understanding: Understanding,
): Promise<Draft<DutyRecord>[]> {
  const known = await em.find(DutyEntity, {});
  const seen = new Map<string, number>();
  return rows.map((row) => {
    const draft = start<DutyRecord>(row);
    if (draft.reasons.length > 0) return draft;
    const reader = new RowReader(row, understanding, draft);
    const record = complete<DutyRecord>({
      name: reader.needed('duty', 'The duty'),
      stopsPerMile: reader.number('stops_per_mile', 'Stops per mile', 0, 100),
      mphBeforeStop: reader.number('mph_before_stop', 'Speed before a stop', 0, 100),
      payloadShare: reader.number('payload_share', 'Payload share', 0, 1.5),
      descentMPerMile: reader.number('descent_m_per_mile', 'Descent', 0, 400),
      retarderShare: reader.number('retarder_share', 'Retarder share', 0, 1),
      towedKg: reader.number('towed_kg', 'Towed mass', 0, 60_000),
      milesPerDay: reader.number('miles_per_day', 'Miles a day', 0, 1500),
    });
    if (!record) return draft;
    const twin = seen.get(record.name.toLowerCase());
    if (twin !== undefined) return refused(draft, reader, 'duty', `This duty stands in line ${twin} already.`);
    seen.set(record.name.toLowerCase(), row.line);
    const same = known.find(({ name }) => sameName(name, record.name));
    if (!same) draft.records.push(record);
    else if ((Object.keys(record) as (keyof DutyRecord)[]).every((key) => key === 'name' || same[key] === record[key]))
      draft.already = 1;
    else
      return refused(
        draft,
        reader,
        'duty',
        'This duty is on record with other figures; another name is accepted, so that the past keeps its duty.',
      );
    return draft;
  });
}

export async function assessVehicles(
  em: EntityManager,
  rows: readonly CsvRecord[],
  understanding: Understanding,
  today: string,
): Promise<Draft<VehicleRecordIn>[]> {
  const models = await em.find(ModelEntity, {});
  const duties = await em.find(DutyEntity, {});
  const depots = (await em.find(DepotEntity, {})).map(({ name }) => name);
  const vehicles = await em.find(VehicleEntity, {});
  const periods = new Set(
    (
      await rowsOf(
        em,
        z.object({ key: z.string() }),
        `select vehicle_id || '/' || from_date || '/' || duty_id as key from duty_period`,
      )
    ).map(({ key }) => key),
  );
  const seen = new Map<string, { line: number; modelId: string }>();
  return rows.map((row) => {
    const draft = start<VehicleRecordIn>(row);
    if (draft.reasons.length > 0) return draft;
    const reader = new RowReader(row, understanding, draft);
    const typed = reader.needed('unit', 'The unit number');
    const unit = typed === undefined ? undefined : normaliseUnit(typed);
    if (unit !== undefined && unit !== typed) draft.notes.push(`“${typed}” was read as ${unit}.`);
    const modelName = reader.needed('model', 'The model');
    const model = models.find(({ name }) => modelName !== undefined && sameName(name, modelName));
    if (modelName !== undefined && !model)
      reader.refuse('model', `There is no model “${modelName}” on record; import the models first.`);
    const dutyName = reader.needed('duty', 'The duty');
    const duty = duties.find(({ name }) => dutyName !== undefined && sameName(name, dutyName));
    if (dutyName !== undefined && !duty)
      reader.refuse('duty', `There is no duty “${dutyName}” on record; import the duties first.`);
    const depot = reader.needed('depot', 'The depot');
    const from = reader.date('duty_from', today);
    const blank = reader.text('odometer') === '';
    const odometer = blank ? undefined : reader.distance('odometer');
    if (!unit || !model || !duty || depot === undefined || from === undefined || (!blank && !odometer)) return draft;
    const known = vehicles.find((one) => one.unit === unit);
    const earlier = known ? { modelId: known.modelId } : seen.get(unit);
    if (earlier && earlier.modelId !== model.id)
      return refused(draft, reader, 'model', `${unit} is on record as another model.`);
    if (!earlier && !odometer)
      return refused(
        draft,
        reader,
        'odometer',
        'The odometer at the start is needed for a vehicle that is not on record yet.',
      );
    if (!depots.some((name) => sameName(name, depot))) {
      depots.push(depot);
      draft.notes.push(`Depot “${depot}” is new and will be entered.`);
    }
    seen.set(unit, { line: row.line, modelId: model.id });
    const metres = odometer ? Math.round(odometer.metres) : null;
    if (known && periods.has(`${known.id}/${from}/${duty.id}`)) draft.already = 1;
    else draft.records.push({ unit, modelId: model.id, depot, dutyId: duty.id, from, odometerM: metres });
    return draft;
  });
}

export async function assessServices(
  em: EntityManager,
  rows: readonly CsvRecord[],
  understanding: Understanding,
  today: string,
): Promise<Draft<ServiceRecord>[]> {
  const vehicles = new Map((await em.find(VehicleEntity, {})).map((one) => [one.unit, one]));
  const axles = await em.find(ModelAxleEntity, {});
  const keyOf = (one: { vehicleId: string; axle: number; date: string; fitted: string }) =>
    `${one.vehicleId}/${one.axle}/${one.date}/${one.fitted}`;
  const known = new Set((await em.find(ServiceEntity, {})).map((one) => keyOf({ ...one, date: one.fittedOn })));
  const seen = new Map<string, number>();
  const drafts: Draft<ServiceRecord>[] = [];
  for (const row of rows) {
    const draft = start<ServiceRecord>(row);
    drafts.push(draft);
    if (draft.reasons.length > 0) continue;
    const reader = new RowReader(row, understanding, draft);
    const typed = reader.needed('unit', 'The unit number');
    const vehicle = typed === undefined ? undefined : vehicles.get(normaliseUnit(typed));
    if (typed !== undefined && !vehicle)
      reader.refuse('unit', `There is no vehicle ${normaliseUnit(typed)} on record; import the vehicles first.`);
    const date = reader.date('date', today);
    const axle = reader.whole('axle', 'The axle', 1, 6);
    const fitted = readFitted(reader);
    const odometer = reader.distance('odometer');
    const sides = reader.text('sides');
    if (sides !== '' && !/^both/i.test(sides))
      reader.refuse('sides', `“${sides}”: pads go on both sides of an axle; “both sides” is accepted.`);
    if (
      !vehicle ||
      date === undefined ||
      axle === undefined ||
      fitted === undefined ||
      !odometer ||
      draft.reasons.length > 0
    )
      continue;
    if (!axles.some((one) => one.modelId === vehicle.modelId && one.axle === axle)) {
      reader.refuse('axle', `${vehicle.unit} has no axle ${axle}.`);
      continue;
    }
    const record = { vehicleId: vehicle.id, axle, date, odometerM: Math.round(odometer.metres), fitted };
    const twin = seen.get(keyOf(record));
    if (known.has(keyOf(record))) draft.already = 1;
    else if (twin !== undefined)
      draft.reasons.push({
        column: null,
        outcome: 'questioned',
        message: `The same as line ${twin}: was it entered twice? It counts once.`,
        holds: true,
      });
    else {
      const entry = { date, metres: record.odometerM };
      const doubt = doubtOdometer(entry, await odometersOnRecord(em, vehicle.id), odometer.unit);
      if (doubt)
        draft.reasons.push({
          column: reader.column('odometer'),
          outcome: 'questioned',
          message: doubtInWords(entry, doubt),
          holds: true,
          bars: true,
        });
      draft.records.push(record);
      seen.set(keyOf(record), row.line);
    }
  }
  return drafts;
}

function readFitted(reader: RowReader): ServiceRecord['fitted'] | undefined {
  const text = reader.text('fitted').toLowerCase();
  const pads = /pad/.test(text);
  const rotors = /rotor|disc/.test(text);
  if (pads && rotors) return 'pads and rotors';
  if (pads) return 'pads';
  if (rotors) return 'rotors';
  return reader.refuse(
    'fitted',
    `“${reader.text('fitted')}” is not understood; pads, rotors, or pads and rotors are accepted.`,
  );
}
