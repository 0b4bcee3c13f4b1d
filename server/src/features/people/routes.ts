import type { Express, Response } from 'express';
import type { SessionState } from '@mile-mark/contract/people';
import { openApiDocument } from '@mile-mark/contract/openapi';
import { randomBytes } from 'node:crypto';
import { createProbe } from '../../platform/db/probe.ts';
import type { EntityManager } from '../../platform/db/orm.ts';
import type { AppContext } from '../../platform/http/context.ts';
import { cookieOf } from '../../platform/http/cookies.ts';
import { mount } from '../../platform/http/mount.ts';
import { changePassword, changePerson, endAccess } from './access.ts';
import { addPerson, authenticate, makeFirstAccount, setPreferences } from './commands.ts';
import { depotsOfPeople } from './depots.ts';
import type { PersonRow } from './entities.ts';
import { mergePerson } from './merge.ts';
import { listPeople, meOf, nobodyHasAnAccount } from './queries.ts';
import { endSession, makeResetLink, resetPassword } from './resets.ts';
import { atItsPace, DEVICE_COOKIE, DEVICE_LIFETIME_MS, hashOfDevice } from './signInPace.ts';
import { closeSession, openSession, personOfToken, SESSION_COOKIE, sessionsOf } from './sessions.ts';

async function stateOf(em: EntityManager, context: AppContext, person: PersonRow | null): Promise<SessionState> {
  return {
    me: person ? meOf(person, (await depotsOfPeople(em, person.id)).get(person.id) ?? []) : null,
    firstAccountNeeded: person === null && (await nobodyHasAnAccount(em)),
    today: context.today(),
    demo: context.demo,
  };
}

export function mountPeople(app: Express, context: AppContext): void {
  // Made when it is first asked for: it is long, and few ask.
  let document: ReturnType<typeof openApiDocument> | undefined;
  const signIn = async (em: EntityManager, person: PersonRow, response: Response) => {
    const name = response.req.get('user-agent') ?? '';
    const deviceToken = cookieOf(response.req, DEVICE_COOKIE) ?? randomBytes(32).toString('base64url');
    const { token, expiresAt } = await openSession(em, person, { name, hash: hashOfDevice(deviceToken) });
    const own = { httpOnly: true, sameSite: 'strict' as const, secure: context.secure };
    response.cookie(SESSION_COOKIE, token, { ...own, path: '/', expires: expiresAt });
    response.cookie(DEVICE_COOKIE, deviceToken, { ...own, path: '/api', maxAge: DEVICE_LIFETIME_MS });
    return stateOf(em, context, person);
  };

  const answers = createProbe(context.orm);
  mount(app, context, 'health', async (_call, response) => {
    const database = (await answers()) ? ('ok' as const) : ('down' as const);
    const queue = context.jobs.state();
    if (database === 'ok' && queue === 'ok') return { status: 'ok' as const, database, queue };
    const body = { status: 'degraded' as const, database, queue };
    response.status(503).setHeader('Cache-Control', 'no-store').json(body);
    return body;
  });
  mount(app, context, 'live', async () => ({ status: 'ok' as const }));
  mount(app, context, 'openapi', async () => (document ??= openApiDocument(context.version)));
  mount(app, context, 'sessionState', async ({ em, token }) => stateOf(em, context, await personOfToken(em, token)));
  mount(app, context, 'signIn', async ({ em, body }, response) =>
    signIn(
      em,
      await atItsPace(em, { email: body.email, device: cookieOf(response.req, DEVICE_COOKIE) }, () =>
        authenticate(em, body.email, body.password),
      ),
      response,
    ),
  );
  mount(app, context, 'firstAccount', async ({ em, body }, response) =>
    signIn(em, await makeFirstAccount(em, body), response),
  );
  mount(app, context, 'signOut', async ({ em, token }, response) => {
    if (token) await closeSession(em, token);
    response.clearCookie(SESSION_COOKIE, { path: '/' });
    return null;
  });
  mount(app, context, 'setPreferences', async ({ em, run, body, token }) => {
    await run(setPreferences, body);
    return stateOf(em.fork(), context, await personOfToken(em.fork(), token));
  });
  mount(app, context, 'changePassword', async ({ run, body, token }) => {
    await run(changePassword, { ...body, token });
    return null;
  });
  mount(app, context, 'ownSessions', async ({ em, actor, token }) => ({
    items: await sessionsOf(em, actor.id, token),
  }));
  mount(app, context, 'endSession', async ({ run, params, token }) => {
    await run(endSession, { ...params, token });
    return null;
  });
  mount(app, context, 'makeResetLink', async ({ run, params }) => run(makeResetLink, { personId: params.id }));
  mount(app, context, 'resetPassword', async ({ em, body }, response) =>
    signIn(em, await resetPassword(em, body), response),
  );
  mount(app, context, 'people', async ({ em, actor }) => ({ items: await listPeople(em, actor) }));
  mount(app, context, 'addPerson', async ({ run, body }) => run(addPerson, body));
  mount(app, context, 'changePerson', async ({ run, params, body }) =>
    run(changePerson, { ...body, personId: params.id }),
  );
  mount(app, context, 'mergePerson', async ({ run, params, body }) =>
    run(mergePerson, { personId: params.id, into: body.into }),
  );
  mount(app, context, 'endAccess', async ({ run, params }) => run(endAccess, { personId: params.id }));
}
