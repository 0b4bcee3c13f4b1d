import { milesToMetres } from '@mile-mark/core';
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { InspectionEntity, paceOf, ReadingEntity, ServiceEntity } from '../../inspections/index.ts';
import {
  DepotEntity,
  DutyEntity,
  ModelAxleEntity,
  ModelEntity,
  moveAtOnce,
  OdometerEntity,
  startDuty,
  VehicleEntity,
} from '../../register/index.ts';
import type { DutyRecord, ModelRecord } from '../assessRegister.ts';
import type { ServiceRecord } from '../assessServices.ts';
import type { VehicleRecordIn } from '../assessVehicles.ts';
import {
  type OrderRecord,
  type PartRecord,
  type StockRecord,
  writeCounts,
  writeOrders,
  writeParts,
} from '../../parts/index.ts';
import type { ReadingRecord } from '../readingRecord.ts';

/** Writes what an import takes in; each returns the vehicles whose forecasts it touches. All within the caller's transaction. */
export const COMMIT = {
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
  vehicles: async (
    em: EntityManager,
    records: VehicleRecordIn[],
    personId: string,
    _importId: string,
    today: string,
  ): Promise<string[]> => {
    const touched: string[] = [];
    for (const record of records) {
      const [depot] = await rowsOf(
        em,
        z.object({ id: z.string() }),
        'select id from depot where lower(name) = lower(?)',
        [record.depot],
      );
      const depotId = depot?.id ?? randomUUID();
      if (!depot) await em.insert(DepotEntity, { id: depotId, name: record.depot, timeZone: 'UTC' });
      const known = await em.findOne(VehicleEntity, { unit: record.unit });
      const vehicleId = known?.id ?? randomUUID();
      if (!known)
        await em.insert(VehicleEntity, {
          id: vehicleId,
          unit: record.unit,
          modelId: record.modelId,
          depotId,
          inputRev: 1,
        });
      else if (record.newest && known.depotId !== depotId) await moveAtOnce(em, known, depotId, { personId, today });
      touched.push(vehicleId);
      if (record.onlyDepot) continue;
      await startDuty(em, { id: randomUUID(), vehicleId, dutyId: record.dutyId, from: record.from });
      if (record.odometerM !== null) {
        await em.insert(OdometerEntity, {
          id: randomUUID(),
          vehicleId,
          readOn: record.from,
          odometerM: record.odometerM,
          source: 'vehicle list',
          enteredBy: personId,
          enteredAt: new Date(),
        });
      }
    }
    return touched;
  },
  services: async (em: EntityManager, records: ServiceRecord[], personId: string): Promise<string[]> => {
    for (const { date, ...record } of records) {
      await em.insert(ServiceEntity, {
        id: randomUUID(),
        ...record,
        fittedOn: date,
        recordedBy: personId,
        recordedAt: new Date(),
      });
    }
    return records.map(({ vehicleId }) => vehicleId);
  },
  readings: async (
    em: EntityManager,
    records: ReadingRecord[],
    personId: string,
    importId: string,
  ): Promise<string[]> => {
    const inspections = new Map<string, ReadingRecord[]>();
    for (const record of records) {
      const key = [record.vehicleId, record.technicianId, record.gaugeId, record.date, record.odometerM].join('/');
      inspections.set(key, [...(inspections.get(key) ?? []), record]);
    }
    const inOrder = [...inspections.values()].sort((a, b) => ((a[0]?.date ?? '') < (b[0]?.date ?? '') ? -1 : 1));
    for (const own of inOrder) {
      const first = own[0] as ReadingRecord;
      const shared = {
        vehicleId: first.vehicleId,
        technicianId: first.technicianId as string,
        measuredOn: first.date,
        odometerM: first.odometerM,
        enteredBy: personId,
        enteredAt: new Date(),
      };
      const inspectionId = randomUUID();
      const pace = await paceOf(em, first.vehicleId, first.date, first.odometerM);
      await em.insert(InspectionEntity, {
        id: inspectionId,
        ...shared,
        gaugeId: first.gaugeId as string,
        odometerTyped: first.odometerTyped,
        note: own.map(({ note }) => note).find((note) => note !== '') ?? null,
        importId,
        usualMilesPerDay: pace?.usualPerDay ?? null,
        expectedOdometerM: pace ? Math.round(milesToMetres(pace.expectedMi)) : null,
      });
      await em.insertMany(
        ReadingEntity,
        own.map(({ axle, side, pad, mm, typed, unit }) => ({
          id: randomUUID(),
          inspectionId,
          ...shared,
          axle,
          side,
          pad,
          thicknessUm: Math.round(mm * 1000),
          typed,
          unit,
        })),
      );
    }
    return records.map(({ vehicleId }) => vehicleId);
  },
  parts: async (em: EntityManager, records: PartRecord[]): Promise<string[]> => {
    await writeParts(em, records);
    return [];
  },
  stock: async (
    em: EntityManager,
    records: StockRecord[],
    personId: string,
    importId: string,
    today: string,
  ): Promise<string[]> => {
    await writeCounts(em, records, { personId, importId, today });
    return [];
  },
  orders: async (em: EntityManager, records: OrderRecord[], personId: string): Promise<string[]> => {
    await writeOrders(em, records, personId);
    return [];
  },
};
