import type { NewCalendarLink } from '@mile-mark/contract/plan';
import { randomBytes } from 'node:crypto';
import type { z } from 'zod';
import { command } from '../../../platform/command/command.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { PersonEntity } from '../../people/index.ts';
import { DepotEntity, vehicleOfUnit } from '../../register/index.ts';
import { CalendarLinkEntity } from '../entities.ts';
import { hashOf } from '../queries/calendars.ts';

const TOKEN_BYTES = 24;

/** Gives out a calendar; only the hash of its address is kept, so it is told this once. */
export const addCalendarLink = command({
  name: 'addCalendarLink',
  action: 'plan',
  clientId: 'id',
  run: async ({ em, actor, today, audit }, { id, kind, of }: z.output<typeof NewCalendarLink>) => {
    const subject =
      kind === 'vehicle'
        ? await vehicleOfUnit(em, of, 'of')
        : kind === 'depot'
          ? await em.findOne(DepotEntity, { name: of })
          : await em.findOne(PersonEntity, { name: of, leftOn: null });
    if (!subject) throw invalidField('of', `There is no ${kind} called ${of} on record.`);
    const token = randomBytes(TOKEN_BYTES).toString('base64url');
    await em.insert(CalendarLinkEntity, {
      id,
      tokenHash: hashOf(token),
      kind,
      subjectId: subject.id,
      madeBy: actor.id,
      madeOn: today,
      lastReadOn: null,
      withdrawnOn: null,
    });
    await audit('gave out a calendar', `calendar/${id}`, { kind, of });
    return { id, path: `/api/calendars/${token}.ics` };
  },
});

/** Its address is good for nothing any more. */
export const withdrawCalendarLink = command({
  name: 'withdrawCalendarLink',
  action: 'plan',
  run: async ({ em, today, audit, changedNothing }, { id }: { id: string }) => {
    const row = await em.findOne(CalendarLinkEntity, { id });
    if (!row) throw new ApiError('not_found', 'There is no such calendar on record.');
    if (row.withdrawnOn !== null) changedNothing();
    else {
      await em.nativeUpdate(CalendarLinkEntity, { id }, { withdrawnOn: today });
      await audit('withdrew a calendar', `calendar/${id}`);
    }
    return { id };
  },
});
