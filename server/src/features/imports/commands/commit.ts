import type { ImportKind } from '@mile-mark/contract/imports';
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { inChunks } from '../../../platform/db/inChunks.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import type { Watch } from '../../../platform/inTurns.ts';
import { ServiceEntity } from '../../inspections/index.ts';
import { DutyEntity, ModelAxleEntity, ModelEntity, VehicleEntity } from '../../register/index.ts';
import type { DutyRecord, ModelRecord } from '../assessRegister.ts';
import type { ServiceRecord } from '../assessServices.ts';
import {
  type OrderRecord,
  type PartRecord,
  type StockRecord,
  writeCounts,
  writeOrders,
  writeParts,
} from '../../parts/index.ts';
import { commitReadings } from './commitReadings.ts';
import { commitVehicles } from './commitVehicles.ts';

/** Who takes a file in, when, as which import, and who watches. */
export interface Commit {
  personId: string;
  importId: string;
  today: string;
  watch: Watch;
}

/** Lists, whose changes are written down row by row so that they can be taken back. */
const LISTS: readonly ImportKind[] = ['models', 'duties', 'vehicles', 'parts', 'orders'];

/** Writes what an import takes in. @returns the vehicles whose forecasts it touches */
export async function writeRecords(
  em: EntityManager,
  kind: ImportKind,
  records: readonly unknown[],
  commit: Commit,
): Promise<string[]> {
  const trace = (importId: string) => em.execute(`select set_config('mile_mark.import', ?, true)`, [importId]);
  if (LISTS.includes(kind)) await trace(commit.importId);
  const touched = await COMMIT[kind](em, records as never[], commit);
  await trace('');
  return touched;
}

/** Writes what an import takes in; each returns the vehicles whose forecasts it touches. All within the caller's transaction. */
const COMMIT = {
  models: async (em: EntityManager, records: ModelRecord[]): Promise<string[]> => {
    const touched: string[] = [];
    for (const { model, class: vehicleClass, tareKg, gvwrKg, ...axle } of records) {
      const [known] = await rowsOf(
        em,
        z.object({ id: z.string() }),
        'select id from model where lower(name) = lower(?)',
        [model],
      );
      const modelId = known?.id ?? randomUUID();
      if (!known)
        await em.insert(ModelEntity, {
          id: modelId,
          name: model,
          class: vehicleClass,
          tareKg,
          gvwrKg,
          retarder: vehicleClass === 'heavy',
        });
      const told = Object.fromEntries(Object.entries(axle).filter(([, value]) => value !== null));
      const changed = await em.nativeUpdate(ModelAxleEntity, { modelId, axle: axle.axle }, told);
      if (changed === 0) await em.insert(ModelAxleEntity, { id: randomUUID(), modelId, ...axle });
      if (!known) continue;
      await em.nativeUpdate(ModelEntity, { id: modelId }, { tareKg: Math.round(tareKg), gvwrKg: Math.round(gvwrKg) });
      for (const { id } of await em.find(VehicleEntity, { modelId })) touched.push(id);
    }
    return touched;
  },
  duties: async (em: EntityManager, records: DutyRecord[]): Promise<string[]> => {
    for (const record of records) await em.insert(DutyEntity, { id: randomUUID(), ...record });
    return [];
  },
  vehicles: commitVehicles,
  services: async (
    em: EntityManager,
    records: ServiceRecord[],
    { personId, importId, watch }: Commit,
  ): Promise<string[]> => {
    const recorded = { importId, recordedBy: personId, recordedAt: new Date() };
    await inChunks(records, watch, (chunk) =>
      em.insertMany(
        ServiceEntity,
        chunk.map(({ date, ...record }) => ({ id: randomUUID(), ...record, fittedOn: date, ...recorded })),
      ),
    );
    return records.map(({ vehicleId }) => vehicleId);
  },
  readings: commitReadings,
  parts: async (em: EntityManager, records: PartRecord[]): Promise<string[]> => {
    await writeParts(em, records);
    return [];
  },
  stock: async (em: EntityManager, records: StockRecord[], commit: Commit): Promise<string[]> => {
    await writeCounts(em, records, commit);
    return [];
  },
  orders: async (em: EntityManager, records: OrderRecord[], { personId }: Commit): Promise<string[]> => {
    await writeOrders(em, records, personId);
    return [];
  },
};
