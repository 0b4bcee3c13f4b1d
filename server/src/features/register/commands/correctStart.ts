import type { StartCorrection } from '@mile-mark/contract/register';
import { z } from 'zod';
import { odometerCorrected } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { firstRow } from '../../../platform/db/rows.ts';
import { ApiError } from '../../../platform/errors.ts';
import { OdometerEntity, OdometerWithdrawalEntity } from '../entities.ts';
import { parseOdometer } from '../lookups.ts';
import { lockedVehicle } from '../revision.ts';

const StartRow = z.object({ id: z.string(), day: z.string(), metres: z.int(), source: z.string() });

/** The odometer at which a vehicle's record begins. */
async function startOf(em: EntityManager, vehicleId: string): Promise<z.output<typeof StartRow> | undefined> {
  return firstRow(
    em,
    StartRow,
    `select id, read_on::text as day, odometer_m as metres, source from odometer
     where vehicle_id = ? and source in ('start of record', 'vehicle list') order by read_on, entered_at limit 1`,
    [vehicleId],
  );
}

/** Corrects the odometer at which a vehicle's record begins; the first one is kept as withdrawn, with the reason. */
export const correctStart = command({
  name: 'correctStart',
  action: 'register',
  run: async (
    { em, actor, audit, emit, changedNothing },
    input: z.output<typeof StartCorrection> & { unit: string },
  ) => {
    const vehicle = await lockedVehicle(em, input.unit);
    const vehicleId = vehicle.id;
    const start = await startOf(em, vehicleId);
    if (!start) throw new ApiError('not_found', `${vehicle.unit} has no odometer at the start of its record.`);
    const odometerM = await parseOdometer(em, {
      typed: input.odometer,
      unit: input.odometerUnit ?? 'mi',
      vehicleId,
      date: start.day,
      field: 'odometer',
      except: { date: start.day, metres: start.metres },
    });
    if (odometerM === start.metres) return (changedNothing(), { id: vehicleId });
    const said = { personId: actor.id, at: new Date() };
    await em.insert(OdometerWithdrawalEntity, {
      id: crypto.randomUUID(),
      odometerId: start.id,
      reason: input.reason,
      ...said,
    });
    await em.insert(OdometerEntity, {
      id: crypto.randomUUID(),
      vehicleId,
      readOn: start.day,
      odometerM,
      source: start.source,
      enteredBy: actor.id,
      enteredAt: said.at,
    });
    await audit('corrected a start odometer', `vehicle/${vehicleId}`, {
      wasM: start.metres,
      odometerM,
      reason: input.reason,
    });
    await emit(odometerCorrected({ vehicleIds: [vehicleId] }));
    return { id: vehicleId };
  },
});
