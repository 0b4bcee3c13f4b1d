import { dayNumber } from '@mile-mark/core';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { invalidField } from '../../../platform/errors.ts';
import { InspectionEntity } from '../entities.ts';

/** The clocks of two places may be so many days apart. */
const MOST_DAYS = 1;

/**
 * Asks for the day of an inspection that a device dated while its clock was set to another one: nobody can tell by the
 * device on which day it was measured. One that is on record already is answered as it was the first time.
 *
 * @param deviceDay by the device's clock, counted on from when it last heard of the record; none where a person typed it
 */
export async function refuseOtherDay(
  em: EntityManager,
  inspection: { id: string; date: string },
  deviceDay: string | undefined,
  today: string,
): Promise<void> {
  if (deviceDay === undefined || Math.abs(dayNumber(deviceDay) - dayNumber(today)) <= MOST_DAYS) return;
  if (await em.findOne(InspectionEntity, { id: inspection.id })) return;
  throw invalidField(
    'inspection.date',
    `The clock of this device was set meanwhile: by it today is ${deviceDay}, here it is ${today}. Was it measured on ${inspection.date}? Mend the day if not, and keep it again.`,
  );
}
