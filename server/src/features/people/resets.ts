import type { PasswordReset, ResetLink } from '@mile-mark/contract/people';
import { randomBytes } from 'node:crypto';
import { hashPassword } from '../../platform/auth/password.ts';
import { audit, command } from '../../platform/command/command.ts';
import type { EntityManager } from '../../platform/db/orm.ts';
import { ApiError, invalidField } from '../../platform/errors.ts';
import { underAccessLock } from './access.ts';
import { PasswordResetEntity, PersonEntity, type PersonRow, SessionEntity } from './entities.ts';
import { closeSessions, hashToken } from './sessions.ts';

const VALID_MS = 24 * 3600 * 1000;

/**
 * Makes a link by which somebody who has an account sets a new password, once and within a day. Nothing changes until it
 * is used; an earlier link of theirs opens nothing any more.
 */
export const makeResetLink = command({
  name: 'makeResetLink',
  action: 'administer',
  run: async ({ em, actor, audit: write }, { personId }: { personId: string }): Promise<ResetLink> => {
    if (personId === actor.id)
      throw invalidField('id', 'Your own password is changed under your name, at the top right.');
    const person = await underAccessLock(em, actor, personId);
    if (person.leftOn) throw new ApiError('conflict', `${person.name} left; their access is not given back here.`);
    if (!person.passwordHash)
      throw new ApiError('conflict', `${person.name} has no account; an e-mail address and a first password give one.`);
    await em.nativeDelete(PasswordResetEntity, { personId, usedAt: null });
    const token = randomBytes(32).toString('base64url');
    const expiresAt = new Date(Date.now() + VALID_MS);
    const made = { madeBy: actor.id, madeAt: new Date() };
    await em.insert(PasswordResetEntity, { tokenHash: hashToken(token), personId, ...made, expiresAt });
    await write('made a link to reset a password', `person/${personId}`, { name: person.name });
    // In the fragment, which no server and no log of one ever sees.
    return { path: `/reset#${token}`, expiresAt: expiresAt.toISOString() };
  },
});

/**
 * Sets a new password by such a link; it works once, and every session of theirs ends. Not a command: who calls it is
 * known by the link alone.
 *
 * @throws ApiError `conflict` where the link is used, over, replaced or of nobody
 */
export async function resetPassword(em: EntityManager, { token, password }: PasswordReset): Promise<PersonRow> {
  const passwordHash = await hashPassword(password);
  return em.transactional(async (inner) => {
    const used = await inner.nativeUpdate(
      PasswordResetEntity,
      { tokenHash: hashToken(token), usedAt: null, expiresAt: { $gt: new Date() } },
      { usedAt: new Date() },
    );
    const reset = used === 1 ? await inner.findOne(PasswordResetEntity, { tokenHash: hashToken(token) }) : null;
    const person = reset && (await inner.findOne(PersonEntity, { id: reset.personId, leftOn: null }));
    if (!person)
      throw new ApiError(
        'conflict',
        'This link does not work any more: it was used, is older than a day, or another was made. Ask the coordinator for a new one.',
      );
    await inner.nativeUpdate(PersonEntity, { id: person.id }, { passwordHash });
    await closeSessions(inner, person.id);
    await audit(inner, person.id, 'set a new password by a link', `person/${person.id}`);
    return inner.findOneOrFail(PersonEntity, { id: person.id }, { refresh: true });
  });
}

/** Ends one of one's own sign-ins; the one that asks is ended by signing out. */
export const endSession = command({
  name: 'endSession',
  action: 'read',
  run: async (
    { em, actor, audit: write, changedNothing },
    { id, token }: { id: string; token: string | undefined },
  ) => {
    const session = await em.findOne(SessionEntity, { id, personId: actor.id });
    if (!session) return (changedNothing(), null);
    if (token !== undefined && session.tokenHash === hashToken(token))
      throw invalidField('id', 'This is the sign-in you are using; sign out ends it.');
    await em.nativeDelete(SessionEntity, { id, personId: actor.id });
    await write('ended a sign-in of their own', `person/${actor.id}`, { device: session.device });
    return null;
  },
});
