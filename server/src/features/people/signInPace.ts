import { createHash } from 'node:crypto';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { firstRow } from '../../platform/db/rows.ts';
import { ApiError, TooSoon } from '../../platform/errors.ts';
import { FailedSignInEntity, KnownDeviceEntity } from './entities.ts';

/** The cookie by which a device on which somebody signed in is known again. */
export const DEVICE_COOKIE = 'milemark_device';
export const DEVICE_LIFETIME_MS = 365 * 24 * 3600 * 1000;

/** Failures are remembered so long, min, and fewer than so many cost nothing. */
const REMEMBERED_MIN = 15;
const FREE = 5;
/** The longest that anybody waits after a failure, s. */
const MOST_WAIT_S = 300;

export const hashOfDevice = (token: string): string => createHash('sha256').update(token).digest('hex');
const hashOfAccount = (email: string): string => createHash('sha256').update(email.trim().toLowerCase()).digest('hex');

const Failures = z.object({ times: z.number(), since: z.number().nullable() });

/**
 * How long whoever types this account's password must still wait, s: twice as long after each failure beyond the first
 * few. Nobody on a device on which that account was signed in to waits.
 */
async function waitFor(em: EntityManager, email: string, device: string | undefined): Promise<number> {
  const failures = await firstRow(
    em,
    Failures,
    `select count(*)::int as times, extract(epoch from clock_timestamp() - max(at))::float8 as since from failed_sign_in
     where account_hash = ? and at > now() - interval '${REMEMBERED_MIN} minutes'`,
    [hashOfAccount(email)],
  );
  const beyond = (failures?.times ?? 0) - FREE;
  if (beyond < 0) return 0;
  const left = Math.ceil(Math.min(MOST_WAIT_S, 2 ** (beyond + 1)) - (failures?.since ?? 0));
  if (left <= 0 || (device !== undefined && (await isKnownFor(em, email, device)))) return 0;
  return left;
}

async function isKnownFor(em: EntityManager, email: string, device: string): Promise<boolean> {
  const found = await firstRow(
    em,
    z.object({ known: z.boolean() }),
    `select exists (select 1 from known_device d join person p on p.id = d.person_id
       where d.token_hash = ? and lower(p.email) = lower(?)) as known`,
    [hashOfDevice(device), email],
  );
  return found?.known ?? false;
}

/** Whether anybody signed in on this device before. */
export async function isKnownDevice(em: EntityManager, device: string | undefined): Promise<boolean> {
  return device !== undefined && (await em.count(KnownDeviceEntity, { tokenHash: hashOfDevice(device) })) > 0;
}

/**
 * Lets an attempt to sign in be made, and remembers one that failed.
 *
 * @throws ApiError `too_many` where it comes too soon after others, with how long is left
 */
export async function atItsPace<T>(
  em: EntityManager,
  { email, device }: { email: string; device: string | undefined },
  attempt: () => Promise<T>,
): Promise<T> {
  const wait = await waitFor(em, email, device);
  if (wait > 0)
    throw new TooSoon(`Too many wrong passwords for this account; it can be tried again in ${wait} s.`, wait);
  const account = { accountHash: hashOfAccount(email) };
  try {
    const result = await attempt();
    await em.nativeDelete(FailedSignInEntity, account);
    return result;
  } catch (error) {
    if (error instanceof ApiError && error.code === 'wrong_credentials') {
      await em.insert(FailedSignInEntity, { ...account, at: new Date() });
      await em.execute(`delete from failed_sign_in where at < now() - interval '${REMEMBERED_MIN} minutes'`);
    }
    throw error;
  }
}
