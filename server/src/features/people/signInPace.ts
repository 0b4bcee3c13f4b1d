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
/** What is typed, and the token of the device on which it is. */
interface Attempt {
  email: string;
  device: string | undefined;
}

const hashOfAccount = (email: string): string => createHash('sha256').update(email.trim().toLowerCase()).digest('hex');

const Failures = z.object({ times: z.number(), since: z.number().nullable() });

/**
 * How long whoever types this account's password must still wait, s: twice as long after each failure beyond the first
 * few. Nobody on a device on which that account was signed in to waits.
 *
 * @param attempt id of this attempt: those before it count, also where they are not answered yet
 */
async function waitFor(
  em: EntityManager,
  { email, device }: Attempt,
  { attempt, accountHash }: { attempt: string; accountHash: string },
): Promise<number> {
  const failures = await firstRow(
    em,
    Failures,
    `select count(*)::int as times, extract(epoch from clock_timestamp() - max(at))::float8 as since from failed_sign_in
     where account_hash = ? and id < ? and at > now() - interval '${REMEMBERED_MIN} minutes'`,
    [accountHash, attempt],
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
 * Lets an attempt to sign in be made. Each is written down as failed before it is made, and taken out when it turns out
 * otherwise: a hundred made at once are slowed as a hundred one after the other.
 *
 * @throws TooSoon where it comes too soon after others, with how long is left
 */
export async function atItsPace<T>(em: EntityManager, made: Attempt, attempt: () => Promise<T>): Promise<T> {
  const accountHash = hashOfAccount(made.email);
  await em.execute(`delete from failed_sign_in where at < now() - interval '${REMEMBERED_MIN} minutes'`);
  const own = await em.insert(FailedSignInEntity, { accountHash, at: new Date() });
  const takeOut = () => em.nativeDelete(FailedSignInEntity, { id: own });
  const wait = await waitFor(em, made, { attempt: own, accountHash });
  if (wait > 0) {
    await takeOut();
    throw new TooSoon(`Too many wrong passwords for this account; it can be tried again in ${wait} s.`, wait);
  }
  try {
    const result = await attempt();
    await em.nativeDelete(FailedSignInEntity, { accountHash });
    return result;
  } catch (error) {
    if (!(error instanceof ApiError && error.code === 'wrong_credentials')) await takeOut();
    throw error;
  }
}
