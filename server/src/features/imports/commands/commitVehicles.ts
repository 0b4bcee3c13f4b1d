import { randomUUID } from 'node:crypto';
import { inChunks } from '../../../platform/db/inChunks.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { groupBy } from '../../../platform/groupBy.ts';
import {
  DepotEntity,
  DutyPeriodEntity,
  ModelEntity,
  moveAtOnce,
  OdometerEntity,
  startDuty,
  VehicleEntity,
} from '../../register/index.ts';
import type { VehicleRecordIn } from '../assessVehicles.ts';
import { sameName } from '../draft.ts';
import type { Commit } from './commit.ts';

/** Puts vehicles of a list on record; one on record begins another duty, or moves. */
export async function commitVehicles(
  em: EntityManager,
  records: readonly VehicleRecordIn[],
  commit: Commit,
): Promise<string[]> {
  const depotId = await depotsOf(em, records);
  const known = new Map((await em.find(VehicleEntity, {})).map((vehicle) => [vehicle.unit, vehicle]));
  const fresh = groupBy(
    records.filter(({ unit }) => !known.has(unit)),
    ({ unit }) => unit,
  );
  const touched = await addVehicles(em, [...fresh.values()], depotId, commit);
  for (const record of records) {
    const vehicle = known.get(record.unit);
    if (!vehicle) continue;
    if (record.newest && vehicle.depotId !== depotId(record.depot))
      await moveAtOnce(em, vehicle, depotId(record.depot), commit);
    touched.push(vehicle.id);
    if (record.onlyDepot) continue;
    await startDuty(em, { id: randomUUID(), vehicleId: vehicle.id, dutyId: record.dutyId, from: record.from });
    await em.insertMany(OdometerEntity, odometersOf([record], vehicle.id, commit.personId));
  }
  return touched;
}

/** The id of each depot by its name; one that is named for the first time is entered. */
async function depotsOf(em: EntityManager, records: readonly VehicleRecordIn[]): Promise<(name: string) => string> {
  const depots = (await em.find(DepotEntity, {})).map(({ id, name }) => ({ id, name }));
  const idOf = (wanted: string) => depots.find(({ name }) => sameName(name, wanted))?.id;
  for (const { depot: name } of records) {
    if (idOf(name) !== undefined) continue;
    const id = randomUUID();
    await em.insert(DepotEntity, { id, name, timeZone: 'UTC' });
    depots.push({ id, name });
  }
  return (name) => {
    const id = idOf(name);
    if (id === undefined) throw new Error(`depot ${name} was not entered`);
    return id;
  };
}

/** Adds vehicles, each with the duties that its rows tell, one ending where the next begins. */
async function addVehicles(
  em: EntityManager,
  rowsOfEach: readonly VehicleRecordIn[][],
  depotId: (name: string) => string,
  { personId, watch }: Commit,
): Promise<string[]> {
  const added = rowsOfEach.map((rows) => ({ id: randomUUID(), rows, inOrder: [...rows].sort(byDay) }));
  await inChunks(added, watch, async (chunk) => {
    await em.insertMany(
      VehicleEntity,
      chunk.flatMap(({ id, rows }) => {
        const at = rows.findLast(({ newest }) => newest) ?? rows.at(-1);
        return at ? [{ id, unit: at.unit, modelId: at.modelId, depotId: depotId(at.depot), inputRev: 1 }] : [];
      }),
    );
    await em.insertMany(
      DutyPeriodEntity,
      chunk.flatMap(({ id, inOrder }) =>
        inOrder.map(({ dutyId, from }, index) => ({
          id: randomUUID(),
          vehicleId: id,
          dutyId,
          fromDate: from,
          toDate: inOrder[index + 1]?.from ?? null,
          milesPerDay: null,
        })),
      ),
    );
    const odometers = chunk.flatMap(({ id, inOrder }) => odometersOf(inOrder, id, personId));
    await em.insertMany(OdometerEntity, odometers);
  });
  // The first duty that a model's vehicle gets is what its wear is told for.
  const firstDuty = new Map<string, string>();
  for (const { modelId, dutyId } of rowsOfEach.flat()) if (!firstDuty.has(modelId)) firstDuty.set(modelId, dutyId);
  for (const [id, referenceDutyId] of firstDuty)
    await em.nativeUpdate(ModelEntity, { id, referenceDutyId: null }, { referenceDutyId });
  return added.map(({ id }) => id);
}

const byDay = (a: VehicleRecordIn, b: VehicleRecordIn) => (a.from < b.from ? -1 : a.from > b.from ? 1 : 0);

const odometersOf = (rows: readonly VehicleRecordIn[], vehicleId: string, personId: string) =>
  rows.flatMap(({ from, odometerM }) =>
    odometerM === null
      ? []
      : [
          {
            id: randomUUID(),
            vehicleId,
            readOn: from,
            odometerM,
            source: 'vehicle list',
            enteredBy: personId,
            enteredAt: new Date(),
          },
        ],
  );
