import { defineEntity, p, type InferEntity } from '@mikro-orm/core';

/** Somebody on record, with or without an account. */
export const PersonEntity = defineEntity({
  name: 'Person',
  tableName: 'person',
  properties: {
    id: p.uuid().primary(),
    name: p.text(),
    role: p.text(),
    email: p.text().nullable(),
    passwordHash: p.text().nullable(),
    distanceUnit: p.text().default('mi'),
    thicknessUnit: p.text().default('mm'),
    torqueShown: p.text().default('as stated'),
    singleKeys: p.boolean().default(true),
    walked: p.boolean().default(false),
    leftOn: p.date().nullable(),
    /** Who it turned out to be: another entry of the same person. */
    mergedInto: p.uuid().nullable(),
    createdAt: p.datetime().onCreate(() => new Date()),
  },
});
export type PersonRow = InferEntity<typeof PersonEntity>;

/** A sign-in; only the hash of its token is kept. */
export const SessionEntity = defineEntity({
  name: 'Session',
  tableName: 'session',
  properties: {
    tokenHash: p.text().primary(),
    id: p.uuid(),
    /** What it was opened on, as the browser names itself. */
    device: p.text().default(''),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    createdAt: p.datetime().onCreate(() => new Date()),
    expiresAt: p.datetime(),
    /** Noted every ten minutes. */
    usedAt: p.datetime().onCreate(() => new Date()),
    /** Of the device it was opened on, as it is known again. */
    deviceHash: p.text().nullable(),
  },
});

/** A device on which somebody signed in before; only the hash of its token is kept. */
export const KnownDeviceEntity = defineEntity({
  name: 'KnownDevice',
  tableName: 'known_device',
  properties: {
    tokenHash: p.text().primary(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id').primary(),
    usedAt: p.datetime().onCreate(() => new Date()),
  },
});

/** A wrong password, by the hash of the address that was typed. */
export const FailedSignInEntity = defineEntity({
  name: 'FailedSignIn',
  tableName: 'failed_sign_in',
  properties: {
    id: p.bigint('string').primary().autoincrement(),
    accountHash: p.text(),
    at: p.datetime().onCreate(() => new Date()),
  },
});
export type SessionRow = InferEntity<typeof SessionEntity>;

/** A link by which somebody sets a new password, once; only the hash of its token is kept. */
export const PasswordResetEntity = defineEntity({
  name: 'PasswordReset',
  tableName: 'password_reset',
  properties: {
    tokenHash: p.text().primary(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    madeBy: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('made_by'),
    madeAt: p.datetime().onCreate(() => new Date()),
    expiresAt: p.datetime(),
    usedAt: p.datetime().nullable(),
  },
});
export type PasswordResetRow = InferEntity<typeof PasswordResetEntity>;
