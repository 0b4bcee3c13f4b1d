import { createHash, randomBytes, randomUUID } from 'node:crypto';
import { Role } from '@mile-mark/contract';
import type { OwnSession } from '@mile-mark/contract/people';
import { z } from 'zod';
import type { Actor } from '../../platform/auth/policy.ts';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { ApiError } from '../../platform/errors.ts';
import { question } from '../../platform/questions.ts';
import { KnownDeviceEntity, PasswordResetEntity, PersonEntity, type PersonRow, SessionEntity } from './entities.ts';

const HOUR_MS = 3600 * 1000;
const LIFETIME_MS = 14 * 24 * HOUR_MS;
/** A session that was used for nothing so long is over: a shift and the way home. */
const IDLE_HOURS = 12;
const OPEN_SESSION = `s.expires_at > now() and s.used_at > now() - interval '${IDLE_HOURS} hours'`;
/** That it was used is noted so often. */
const NOTED_AFTER_MIN = 10;
export const SESSION_COOKIE = 'milemark_session';

/** Only the hash of a token is kept: a copy of the database opens no session. */
export function hashToken(token: string): string {
  return createHash('sha256').update(token).digest('hex');
}

/**
 * Opens a session and returns its token, which is told once.
 *
 * @param person as the password was held against: where it was changed since, nothing opens (`wrong_credentials`)
 * @param device what it is opened on, as the browser names itself, and by what it is known again: a session of the
 *   person that was open there ends
 */
export async function openSession(
  em: EntityManager,
  person: PersonRow,
  device: { name: string; hash?: string },
): Promise<{ token: string; expiresAt: Date }> {
  const token = randomBytes(32).toString('base64url');
  const expiresAt = new Date(Date.now() + LIFETIME_MS);
  await em.transactional(async (inner) => {
    // Waits for a change of the password that is on its way, which ends the sessions it finds.
    const [now] = await rowsOf(
      inner,
      z.object({ hash: z.string().nullable() }),
      'select password_hash as hash from person where id = ? for share',
      [person.id],
    );
    if (now?.hash !== person.passwordHash) throw new ApiError('wrong_credentials');
    const createdAt = new Date();
    if (device.hash !== undefined) await keepDevice(inner, person.id, device.hash);
    await inner.insert(SessionEntity, {
      tokenHash: hashToken(token),
      id: randomUUID(),
      device: device.name.slice(0, 200),
      deviceHash: device.hash ?? null,
      personId: person.id,
      createdAt,
      expiresAt,
    });
  });
  await em.execute(`delete from session s where not (${OPEN_SESSION})`);
  return { token, expiresAt };
}

/** The device is known for the person from now on, and has no other session of theirs. */
async function keepDevice(em: EntityManager, personId: string, hash: string): Promise<void> {
  await em.nativeDelete(SessionEntity, { personId, deviceHash: hash });
  await em.upsert(KnownDeviceEntity, { tokenHash: hash, personId, usedAt: new Date() });
}

/**
 * Ends a person's sessions, on every device; all but the one of a token, where it is given. A link to reset their
 * password opens nothing any more either.
 */
export async function closeSessions(em: EntityManager, personId: string, but?: string): Promise<void> {
  await em.nativeDelete(PasswordResetEntity, { personId, usedAt: null });
  await em.nativeDelete(SessionEntity, {
    personId,
    ...(but === undefined ? {} : { tokenHash: { $ne: hashToken(but) } }),
  });
}

export async function closeSession(em: EntityManager, token: string): Promise<void> {
  await em.nativeDelete(SessionEntity, { tokenHash: hashToken(token) });
}

/** One's own sessions that are open, the newest first; `current` is the one of the token. */
export async function sessionsOf(
  em: EntityManager,
  personId: string,
  token: string | undefined,
): Promise<OwnSession[]> {
  const rows = await em.find(
    SessionEntity,
    { personId, expiresAt: { $gt: new Date() }, usedAt: { $gt: new Date(Date.now() - IDLE_HOURS * HOUR_MS) } },
    { orderBy: { createdAt: 'desc' } },
  );
  return rows.map(({ id, device, createdAt, tokenHash }) => ({
    id,
    device,
    since: createdAt.toISOString(),
    current: token !== undefined && hashToken(token) === tokenHash,
  }));
}

/** The person behind a token, or null where it is unknown or over. */
export async function personOfToken(em: EntityManager, token: string | undefined): Promise<PersonRow | null> {
  if (!token) return null;
  const session = await em.findOne(SessionEntity, {
    tokenHash: hashToken(token),
    expiresAt: { $gt: new Date() },
    usedAt: { $gt: new Date(Date.now() - IDLE_HOURS * HOUR_MS) },
  });
  return session && em.findOne(PersonEntity, { id: session.personId, leftOn: null });
}

const ActorSql = z.object({
  key: z.string(),
  id: z.string(),
  name: z.string(),
  role: Role,
  limitedTo: z.array(z.string()),
  stale: z.boolean(),
});

/** Who is behind hashes of tokens. */
const actorBehind = question(
  'actor',
  ActorSql,
  `select s.token_hash as key, p.id, p.name, p.role,
     array(select d.depot_id::text from person_depot d where d.person_id = p.id) as "limitedTo", s.used_at < now() - interval '${NOTED_AFTER_MIN} minutes' as stale
   from jsonb_array_elements_text(?::jsonb) as asked(key) join session s on s.token_hash = asked.key join person p on p.id = s.person_id
   where ${OPEN_SESSION} and p.left_on is null`,
);

/** The same as an actor, outside a transaction. That the session was used is noted. */
export async function actorOf(em: EntityManager, token: string | undefined): Promise<Actor | null> {
  if (!token) return null;
  const tokenHash = hashToken(token);
  const found = (await actorBehind(em, [tokenHash])).get(tokenHash);
  if (!found) return null;
  const { key: _key, stale, ...actor } = found;
  if (stale) await em.execute('update session set used_at = now() where token_hash = ?', [tokenHash]);
  return actor;
}
