import type { Understanding } from '@mile-mark/contract/imports';
import { doubtOdometer } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import type { CsvRecord } from '../../platform/documents/csv.ts';
import {
  afterDeparture,
  doubtInWords,
  entryNow,
  instrumentsOf,
  ModelAxleEntity,
  normaliseUnit,
  odometersOfMany,
  VehicleEntity,
} from '../register/index.ts';
import { type Draft, RowReader } from './assess.ts';
import { start } from './draft.ts';

export interface ServiceRecord {
  vehicleId: string;
  axle: number;
  date: string;
  odometerM: number;
  fitted: 'pads' | 'pads and rotors' | 'rotors';
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
  const known = new Set(
    (
      await rowsOf(
        em,
        z.object({ key: z.string() }),
        `select concat_ws('/', vehicle_id, axle, fitted_on, fitted) as key from service`,
      )
    ).map(({ key }) => key),
  );
  const unitAt = understanding.columns.findIndex(({ field }) => field === 'unit');
  const named = new Set(rows.map(({ cells }) => vehicles.get(normaliseUnit(cells[unitAt] ?? ''))?.id));
  const ids = [...named].filter((id) => id !== undefined);
  const odometers = await odometersOfMany(em, ids);
  const now = await instrumentsOf(em, ids);
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
    const gone = afterDeparture(vehicle, date);
    if (gone !== undefined) {
      reader.refuse('date', gone);
      continue;
    }
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
      const entry = entryNow(now, vehicle.id, { date, metres: record.odometerM });
      const doubt = doubtOdometer(entry, odometers.get(vehicle.id) ?? [], odometer.unit);
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
