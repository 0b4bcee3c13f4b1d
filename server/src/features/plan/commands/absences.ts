import type { CalendarFile, CalendarRead, NewAbsence } from '@mile-mark/contract/plan';
import { randomUUID } from 'node:crypto';
import type { z } from 'zod';
import { shopChanged } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { PersonEntity } from '../../people/index.ts';
import { DepotEntity, vehicleOfUnit } from '../../register/index.ts';
import { readCalendarText, type CalendarEntry } from '../calendarIn.ts';
import { AbsenceEntity } from '../entities.ts';

type Kind = 'person' | 'vehicle' | 'depot';
interface Subject {
  absentPersonId: string | null;
  vehicleId: string | null;
  depotId: string | null;
}

/** Who or what it is, by its name. */
async function subjectOf(em: EntityManager, kind: Kind, name: string): Promise<Subject> {
  const nobody = { absentPersonId: null, vehicleId: null, depotId: null };
  if (kind === 'vehicle') return { ...nobody, vehicleId: (await vehicleOfUnit(em, name, 'of')).id };
  if (kind === 'depot') {
    const depot = await em.findOne(DepotEntity, { name });
    if (!depot) throw invalidField('of', `There is no depot ${name} on record.`);
    return { ...nobody, depotId: depot.id };
  }
  const person = await em.findOne(PersonEntity, { name, leftOn: null });
  if (!person) throw invalidField('of', `There is nobody called ${name} on record.`);
  return { ...nobody, absentPersonId: person.id };
}

/** Puts on record that somebody or something is away, or comes in for other work. */
export const addAbsence = command({
  name: 'addAbsence',
  action: 'plan',
  clientId: 'id',
  run: async ({ em, actor, today, audit, emit }, input: z.output<typeof NewAbsence>) => {
    const { id, kind, of, from, to, reason, comesIn } = input;
    if (to < today) throw invalidField('to', `Today (${today}) or a later day is accepted.`);
    const subject = await subjectOf(em, kind, of);
    await em.insert(AbsenceEntity, {
      id,
      kind,
      ...subject,
      fromDate: from,
      toDate: to,
      reason,
      comesIn,
      calendarUid: null,
      enteredBy: actor.id,
      enteredOn: today,
      withdrawnOn: null,
    });
    await audit('said who is away', `absence/${id}`, { kind, of, from, to, reason, comesIn });
    await emit(shopChanged({}));
    return { id };
  },
});

/** The days count again; the line stays on record as withdrawn. */
export const withdrawAbsence = command({
  name: 'withdrawAbsence',
  action: 'plan',
  run: async ({ em, today, audit, emit, changedNothing }, { id }: { id: string }) => {
    const row = await em.findOne(AbsenceEntity, { id });
    if (!row) throw new ApiError('not_found', 'There is no such absence on record.');
    if (row.withdrawnOn !== null) changedNothing();
    else {
      await em.nativeUpdate(AbsenceEntity, { id }, { withdrawnOn: today });
      await audit('withdrew who is away', `absence/${id}`);
      await emit(shopChanged({}));
    }
    return { id };
  },
});

/**
 * Takes a calendar's entries in, by their UIDs: new ones are added, changed ones follow, cancelled ones are withdrawn,
 * the same again changes nothing; what can't be read is said entry by entry.
 */
export const readCalendar = command({
  name: 'readCalendar',
  action: 'plan',
  clientId: 'id',
  run: async ({ em, actor, today, audit, emit }, input: z.output<typeof CalendarFile>): Promise<CalendarRead> => {
    const { kind, of, comesIn, text } = input;
    const subject = await subjectOf(em, kind, of);
    const { entries, refused } = readCalendarText(text, today);
    const known = await em.find(AbsenceEntity, { ...subject, withdrawnOn: null, calendarUid: { $ne: null } });
    const read: CalendarRead = { added: 0, already: 0, changed: 0, withdrawn: 0, refused };
    for (const entry of entries) {
      const own = known.find(({ calendarUid }) => calendarUid === entry.uid);
      const same = own?.fromDate === entry.from && own.toDate === entry.to && own.reason === entry.reason;
      if (own && !entry.cancelled && same) read.already += 1;
      else if (own) {
        await em.nativeUpdate(AbsenceEntity, { id: own.id }, { withdrawnOn: today });
        if (entry.cancelled) read.withdrawn += 1;
        else read.changed += 1;
      } else if (!entry.cancelled) read.added += 1;
      if (!entry.cancelled && !(own && same))
        await insertEntry(em, { kind, subject, comesIn, by: actor.id, today }, entry);
    }
    await audit('read a calendar', `absence/${kind}`, { of, ...read, refused: read.refused.length });
    await emit(shopChanged({}));
    return read;
  },
});

async function insertEntry(
  em: EntityManager,
  { kind, subject, comesIn, by, today }: { kind: Kind; subject: Subject; comesIn: boolean; by: string; today: string },
  { uid, from, to, reason }: CalendarEntry,
): Promise<void> {
  await em.insert(AbsenceEntity, {
    id: randomUUID(),
    kind,
    ...subject,
    fromDate: from,
    toDate: to,
    reason,
    comesIn,
    calendarUid: uid,
    enteredBy: by,
    enteredOn: today,
    withdrawnOn: null,
  });
}
