import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import supertest from 'supertest';
import type { JobProposal } from '@mile-mark/contract/jobs';
import type { Model } from '@mile-mark/contract/register';
import type { Person } from '@mile-mark/contract/people';
import { createTestApp, PASSWORD, type TestApp, TODAY } from '../../testing/app.ts';
import { cardOf, odometerOf, workThrough, write, WORKSHOP } from '../../testing/jobs.ts';

type Agent = ReturnType<typeof supertest.agent>;
let test: TestApp;
let coordinator: Agent;
let technician: Agent;
beforeAll(async () => {
  test = await createTestApp({ demo: WORKSHOP });
  coordinator = await test.as('coordinator');
  technician = await test.as('technician');
}, 120_000);
afterAll(async () => test.close());

const sql = <T>(text: string, values: unknown[] = []) => test.orm.em.fork().execute<T[]>(text, values);
async function begin(unit: string, agent = technician): Promise<string> {
  const id = randomUUID();
  const axles = [{ axle: 1, added: [{ action: 'pads', reason: 'the test asks for it' }] }];
  await coordinator.post('/api/jobs').send({ id, unit, axles, day: TODAY }).expect(201);
  await agent.post(`/api/jobs/${id}/moves`).send({ id: randomUUID(), verb: 'start' }).expect(201);
  return id;
}

describe('how a model is built', () => {
  const modelOf = async (name: string): Promise<Model> => {
    const { items } = (await technician.get('/api/models').expect(200)).body as { items: Model[] };
    const found = items.find((one) => one.name === name);
    if (!found) throw new Error(`there is no ${name}`);
    return found;
  };
  const say = (agent: Agent, { id }: Model, body: object) => agent.put(`/api/models/${id}/build`).send(body);
  const stepsOf = async (id: string) => (await cardOf(technician, id)).steps.map(({ id: step }) => step);

  it('is what cards follow at once, and the reservoir is what fluid is reckoned with', async () => {
    const model = await modelOf('Tarnbrook Drover 4x4');
    const job = await begin('P01');
    expect(await stepsOf(job)).toContain('caliper released/1/left');
    const axles = [{ axle: 1, caliper: 'fixed', parking: 'none', sensor: 'right' }];
    const said = { axles, reservoirMl: 90, liftingPoints: '', revision: model.revision };
    const { body } = await say(coordinator, model, said).expect(200);
    expect(body).toMatchObject({ reservoirMl: 90, liftingPoints: null, revision: model.revision + 1 });
    expect(body.axles[0].brakeDetail).toBe('hydraulic fixed, wear sensor right');
    expect(body.axles[1].brakeDetail).toBe(model.axles[1]?.brakeDetail);
    const steps = await stepsOf(job);
    expect(steps).not.toContain('caliper released/1/left');
    expect(steps).toEqual(expect.arrayContaining(['pads out, fixed/1/left', 'sensor plugged/1/right']));
    expect((await cardOf(technician, job)).fluid).toMatchObject({ betweenMarksMl: 90, marksStated: true });
    const [kept] = await sql<{ detail: { was: Record<string, string> } }>(
      `select detail from audit where action = 'said how a model is built'`,
    );
    expect(kept?.detail.was).toEqual({ 1: model.axles[0]?.brakeDetail });
    await sql(`update job set state = 'called off' where id = ?`, [job]);
  });

  it('keeps all the words on record where they say the same already', async () => {
    const model = await modelOf('Ostrey Carrier 35');
    const words = 'hydraulic sliding, 2 pistons of 48 mm, wear sensor left';
    await sql('update model_axle set brake_detail = ? where model_id = ? and axle = 1', [words, model.id]);
    const axles = [{ axle: 1, caliper: 'sliding', parking: 'none', sensor: 'left' }];
    const { body } = await say(coordinator, model, { axles, reservoirMl: null, liftingPoints: null }).expect(200);
    expect(body.axles[0].brakeDetail).toBe(words);
    expect(body).toMatchObject({ reservoirMl: null, liftingPoints: null });
  });

  it('says what it does not accept, and to whom it belongs', async () => {
    const model = await modelOf('Ostrey Carrier 35');
    const heavy = (await technician.get('/api/models')).body.items.find((one: Model) => one.class === 'heavy') as Model;
    const body = { axles: [], reservoirMl: null, liftingPoints: null };
    const sensor = { sensor: 'none' };
    const refusals: [Model, object, string][] = [
      [model, { ...body, axles: [{ axle: 5, ...sensor }] }, 'axles.0.axle'],
      [model, { ...body, axles: [{ axle: 1, caliper: 'air', ...sensor }] }, 'axles.0.caliper'],
      [heavy, { ...body, axles: [{ axle: 1, caliper: 'fixed', ...sensor }] }, 'axles.0.caliper'],
      [model, { ...body, reservoirMl: 3 }, 'reservoirMl'],
      [model, { ...body, liftingPoints: 'x'.repeat(301) }, 'liftingPoints'],
    ];
    for (const [of, sent, field] of refusals) {
      const answer = await say(coordinator, of, sent);
      expect([answer.status, answer.body.errors?.[0]?.field]).toEqual([422, field]);
    }
    await say(technician, model, body).expect(403);
    await coordinator.put(`/api/models/${randomUUID()}/build`).send(body).expect(404);
  });

  it('changed by two at once: the second is told', async () => {
    const model = await modelOf('Ostrey Carrier 35');
    const body = { axles: [], reservoirMl: 150, liftingPoints: null, revision: model.revision };
    const answers = await Promise.all([say(coordinator, model, body), say(coordinator, model, body)]);
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409]);
  });
});

describe('a technician who leaves while the card is open', () => {
  async function newcomer(name: string): Promise<{ id: string; agent: Agent; email: string }> {
    const id = randomUUID();
    const email = `${name.toLowerCase().replace(' ', '.')}@dairy.example`;
    await coordinator.post('/api/people').send({ id, name, role: 'technician', email, password: PASSWORD }).expect(201);
    const agent = supertest.agent(test.app);
    await agent.post('/api/session').send({ email, password: PASSWORD }).expect(200);
    return { id, agent, email };
  }

  it('writes nothing from then on; what was written stays theirs, and somebody else goes on and closes', async () => {
    const { id, agent, email } = await newcomer('Tam Ollery');
    const job = await begin('P06', agent);
    expect((await write(agent, job, { kind: 'do', step: 'ground' })).status).toBe(201);
    const { body } = await coordinator.post(`/api/people/${id}/leaving`).expect(200);
    expect(body).toMatchObject({ name: 'Tam Ollery', signsIn: false, leftOn: TODAY });
    expect((await write(agent, job, { kind: 'do', step: 'kit' })).status).toBe(401);
    expect((await agent.post('/api/session').send({ email, password: PASSWORD })).status).toBe(401);
    const card = await cardOf(technician, job);
    expect(card.steps.find((step) => step.id === 'ground')?.done).toMatchObject({ by: 'Tam Ollery', byId: id });
    expect(card.steps.find((step) => step.id === 'kit')?.done).toBeNull();
    expect(card.people.map((one) => one.id)).not.toContain(id);
    await write(technician, job, { kind: 'take up' });
    await workThrough(test, technician, job, ['ground']);
    const odometer = await odometerOf(test, 'P06');
    await technician.post(`/api/jobs/${job}/close`).send({ id: randomUUID(), odometer }).expect(201);
  });

  it('is no longer offered for a booking, and is told of once however often it is said', async () => {
    const { id } = await newcomer('Wenna Sarle');
    const offered = async () =>
      ((await coordinator.get('/api/vehicles/P04/proposal').expect(200)).body.people as { id: string }[]).map(
        (one) => one.id,
      );
    expect(await offered()).toContain(id);
    await Promise.all([1, 2].map(() => coordinator.post(`/api/people/${id}/leaving`).expect(200)));
    expect(await offered()).not.toContain(id);
    const told = await sql(`select 1 from audit where subject = ? and action = 'ended the access of a person'`, [
      `person/${id}`,
    ]);
    expect(told).toHaveLength(1);
    const { items } = (await coordinator.get('/api/people')).body as { items: Person[] };
    expect(items.find((one) => one.id === id)).toMatchObject({ signsIn: false, leftOn: TODAY });
  });

  it('is one of two who end each other’s access at once: a coordinator stays', async () => {
    const pair = await Promise.all(
      ['Hedda Vorn', 'Ulf Stannic'].map(async (name) => {
        const { id, agent } = await newcomer(name);
        await sql(`update person set role = 'coordinator' where id = ?`, [id]);
        return { id, agent };
      }),
    );
    const [first, second] = pair;
    if (!first || !second) throw new Error('two are needed');
    const answers = await Promise.all([
      first.agent.post(`/api/people/${second.id}/leaving`),
      second.agent.post(`/api/people/${first.id}/leaving`),
    ]);
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 401]);
    const left = await sql<{ id: string }>('select id from person where left_on is not null and id in (?, ?)', [
      first.id,
      second.id,
    ]);
    expect(left).toHaveLength(1);
  });

  it('is somebody else: nobody ends their own access, and only a coordinator ends another’s', async () => {
    const me = (await coordinator.get('/api/session')).body.me as { id: string };
    const own = await coordinator.post(`/api/people/${me.id}/leaving`);
    expect([own.status, own.body.errors?.[0]?.field]).toEqual([422, 'id']);
    await technician.post(`/api/people/${me.id}/leaving`).expect(403);
    await coordinator.post(`/api/people/${randomUUID()}/leaving`).expect(404);
  });
});

describe('what a person asks for', () => {
  const scopeOfJob = async (id: string) =>
    (
      (await coordinator.get(`/api/jobs/${id}`).expect(200)).body.axles[0].scope as {
        action: string;
        rules: string[];
      }[]
    ).map(({ action, rules }) => [action, rules[0] ?? 'by hand']);
  it('brings what goes with it, which is proposed before and can be left out', async () => {
    const { body } = await coordinator.get('/api/vehicles/V05/proposal').expect(200);
    const [axle] = (body as JobProposal).axles.filter(({ scope }) => scope.length === 0);
    if (!axle) throw new Error('an axle of V05 of which no rule asks anything');
    const withPads = axle.withPads.map(({ action }) => action);
    expect(withPads).toContain('hardware');
    expect(axle.because.map(({ action }) => action)).toEqual(expect.arrayContaining(withPads));
    const id = randomUUID();
    const added = [{ action: 'pads', reason: 'booked by hand' }];
    const declined = [{ action: 'hardware', reason: 'fitted last month' }];
    await coordinator
      .post('/api/jobs')
      .send({ id, unit: 'V05', axles: [{ axle: axle.axle, added, declined }] })
      .expect(201);
    const scope = await scopeOfJob(id);
    expect(scope).toContainEqual(['pads', 'by hand']);
    expect(scope.map(([action]) => action)).not.toContain('hardware');
    expect(scope).toHaveLength(withPads.length);
    // New rotors get new pads; these are in already, and what was left out stays out.
    await coordinator
      .post(`/api/jobs/${id}/scope`)
      .send({ id: randomUUID(), axle: axle.axle, action: 'calipers', wanted: true, reason: 'the left one sweats' })
      .expect(201);
    const after = await scopeOfJob(id);
    expect(after).toEqual(
      expect.arrayContaining([
        ['calipers', 'by hand'],
        ['bleed', 'calipers in pairs'],
      ]),
    );
    expect(after.map(([action]) => action)).not.toContain('hardware');
    const { story } = (await coordinator.get(`/api/jobs/${id}`)).body as { story: { text: string }[] };
    expect(story.map(({ text }) => text).join(' ')).toContain(
      'caliper, and with it bleed, added (the left one sweats)',
    );
  });
});
