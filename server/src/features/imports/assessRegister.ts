import type { Understanding } from '@mile-mark/contract/imports';
import { buildOf } from '@mile-mark/core';
import type { EntityManager } from '../../platform/db/orm.ts';
import type { CsvRecord } from '../../platform/documents/csv.ts';
import { DutyEntity, ModelAxleEntity, type ModelAxleRow, ModelEntity, type ModelRow } from '../register/index.ts';
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
    if (!known) {
      draft.records.push(record);
      return draft;
    }
    if (model.class !== record.class || known.brake !== record.brake)
      return refused(
        draft,
        reader,
        model.class !== record.class ? 'class' : 'brake',
        `${model.name} is on record as ${model.class}, axle ${known.axle} ${known.brake}; what is built otherwise is another model.`,
      );
    const changes = changesOf(model, known, record);
    if (changes.length === 0) draft.already = 1;
    else draft.records.push(record);
    const told = changes.filter(({ from }) => from !== null);
    if (told.length > 0)
      draft.reasons.push({
        column: reader.column(told[0]?.field ?? ''),
        outcome: 'questioned',
        message: `On record otherwise: ${told.map(({ label, from, to }) => `${label} ${from}, here ${to}`).join('; ')}. Taken, the model is changed and its vehicles’ marks are computed anew.`,
        holds: true,
      });
    return draft;
  });
}

interface Change {
  field: string;
  label: string;
  /** Null where nothing is on record yet. */
  from: string | null;
  to: string;
}

/** Whether two descriptions of a brake say the same of how it is built, in whatever words. */
function builtAlike(...brakes: { brake: string; brakeDetail: string }[]): boolean {
  return (
    new Set(brakes.map(({ brake, brakeDetail }) => JSON.stringify(buildOf(brake as 'air', brakeDetail)))).size === 1
  );
}

/** What a row says otherwise than the record; a blank cell says nothing. */
function changesOf(model: ModelRow, axle: ModelAxleRow, record: ModelRecord): Change[] {
  const kg = (value: number) => `${Math.round(value)} kg`;
  const mm = (um: number) => `${um / 1000} mm`;
  const compared: [field: string, label: string, from: string | null, to: string | null][] = [
    ['tare_kg', 'tare', kg(model.tareKg), kg(record.tareKg)],
    ['gvwr_kg', 'GVWR', kg(model.gvwrKg), kg(record.gvwrKg)],
    ['pad_new', 'new pad', mm(axle.padNewUm), mm(record.padNewUm)],
    ['backing_plate', 'backing plate', mm(axle.backingPlateUm), mm(record.backingPlateUm)],
    ['pad_maker_min', 'maker’s least', mm(axle.padMakerMinUm), mm(record.padMakerMinUm)],
    ...(
      [
        ['rotor_new', 'new rotor', 'rotorNewUm'],
        ['rotor_discard', 'rotor discard', 'rotorDiscardUm'],
        ['rotor_machine_to', 'rotor machine-to', 'rotorMachineToUm'],
        ['rotor_diameter', 'rotor diameter', 'rotorDiameterUm'],
      ] as const
    ).map(([field, label, key]): [string, string, string | null, string | null] => {
      const [from, to] = [axle[key] ?? null, record[key]];
      return [field, label, from === null ? null : mm(from), to === null ? null : mm(to)];
    }),
    ['pistons', 'pistons', axle.pistonsMm ?? null, record.pistonsMm],
    ['brake', 'brake', axle.brakeDetail, builtAlike(axle, record) ? axle.brakeDetail : record.brakeDetail],
    ['brake_share', 'brake share', String(axle.brakeShare), String(record.brakeShare)],
  ];
  return compared.flatMap(([field, label, from, to]) =>
    to === null || to === from ? [] : [{ field, label, from, to }],
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
