import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type supertest from 'supertest';
import { createTestApp, type TestApp, TODAY } from '../../testing/app.ts';
import { cardOf, workThrough, write, WORKSHOP } from '../../testing/jobs.ts';
import { greyPicture } from '../../testing/picture.ts';
import { readPdf } from '../../testing/pdf.ts';

let test: TestApp;
let coordinator: ReturnType<typeof supertest.agent>;
let technician: ReturnType<typeof supertest.agent>;
beforeAll(async () => {
  test = await createTestApp({ demo: WORKSHOP });
  coordinator = await test.as('coordinator');
  technician = await test.as('technician');
}, 120_000);
afterAll(async () => test.close());

const sql = <T>(text: string, values: unknown[] = []) => test.orm.em.fork().execute<T[]>(text, values);
const settle = (body: object) => coordinator.put('/api/shop-policy').send(body);
async function begin(unit: string): Promise<string> {
  const id = randomUUID();
  const added = [
    { action: 'pads', reason: 'the test asks' },
    { action: 'rotors new', reason: 'the test asks' },
  ];
  await coordinator
    .post('/api/jobs')
    .send({ id, unit, axles: [{ axle: 1, added }] })
    .expect(201);
  await technician.post(`/api/jobs/${id}/moves`).send({ id: randomUUID(), verb: 'start' }).expect(201);
  return id;
}
const stepsOf = async (id: string) => (await cardOf(technician, id)).steps.map((step) => step.id);

describe("the shop's policy", () => {
  it('is followed by cards that begin after it, and leaves those in work alone', async () => {
    const before = await begin('P01');
    expect(await stepsOf(before)).toContain('hub film/1/left');
    await settle({ matter: 'hub face', option: 'clean and dry', reason: 'no salt here' }).expect(200);
    expect(await stepsOf(before)).toContain('hub film/1/left');
    expect(await stepsOf(await begin('P02'))).not.toContain('hub film/1/left');
  });

  it('of a model goes over the fleet’s, and of another model it does not', async () => {
    await settle({
      matter: 'double check',
      level: 'model',
      subject: 'Ostrey Carrier 35',
      option: 'second person',
    }).expect(200);
    expect(await stepsOf(await begin('V01'))).toContain('nuts by a second/1/left');
    expect(await stepsOf(await begin('P03'))).not.toContain('nuts by a second/1/left');
  });

  it('refuses what contradicts another setting, of another level too', async () => {
    await settle({ matter: 'bracket bolt thread', level: 'class', subject: 'van', option: 'greased' }).expect(200);
    const { body } = await settle({
      matter: 'bracket bolts',
      level: 'model',
      subject: 'Ostrey Carrier 35',
      option: 'medium thread locker',
    }).expect(422);
    expect(body.errors[0]).toMatchObject({ field: 'option', message: expect.stringContaining('grease') });
    await settle({
      matter: 'bracket bolts',
      level: 'model',
      subject: 'Tarnbrook Drover 4x4',
      option: 'medium thread locker',
    }).expect(200);
  });

  it.each([
    [{ matter: 'torque', option: 'feel' }, 'matter'],
    [{ matter: 'hardware', option: 'sometimes' }, 'option'],
    [{ matter: 'hardware', level: 'model', subject: 'No such', option: 'always new' }, 'subject'],
    [{ matter: 'hardware', level: 'class', option: 'always new' }, 'subject'],
    [{ matter: 'hardware', level: 'fleet', subject: 'van', option: 'always new' }, 'subject'],
  ])('refuses %j at its field', async (body, field) => {
    const answer = await settle(body).expect(422);
    expect(answer.body.errors[0].field).toBe(field);
  });

  it('is edited by who saw the newest, keeps every change, and is the coordinator’s', async () => {
    const { revision } = (await coordinator.get('/api/shop-policy').expect(200)).body;
    await settle({ matter: 'calipers', option: 'only the failed one', revision }).expect(200);
    await settle({ matter: 'calipers', option: 'in pairs', revision }).expect(409);
    const { body } = await coordinator.get('/api/shop-policy').expect(200);
    expect(body.settings[0]).toMatchObject({ matter: 'calipers', option: 'only the failed one', on: TODAY });
    expect(body.matters.find(({ matter }: { matter: string }) => matter === 'calipers').fleet).toBe(
      'only the failed one',
    );
    await technician.put('/api/shop-policy').send({ matter: 'calipers', option: 'in pairs' }).expect(403);
    await expect(sql(`update shop_policy set option = 'x'`)).rejects.toThrow(/append-only/);
  });
});

describe('a card', () => {
  it('wants a second person to be another one', async () => {
    const [job] = await sql<{ id: string }>(
      `select j.id from job j join vehicle v on v.id = j.vehicle_id where v.unit = 'V01' and j.state = 'in work'`,
    );
    const id = job?.id ?? '';
    const second = 'nuts by a second/1/left';
    expect((await write(technician, id, { kind: 'second', step: second })).body.errors[0].message).toMatch(
      /torqued first/,
    );
    await workThrough(test, technician, id, ['nuts by a second/1/left', 'nuts by a second/1/right']);
    expect((await write(technician, id, { kind: 'second', step: second })).body.errors[0].message).toMatch(
      /somebody else/,
    );
    expect((await write(coordinator, id, { kind: 'second', step: second })).status).toBe(201);
  });

  it('asks for a joint again when its specification is revised and what was reached does not fit', async () => {
    const [job] = await sql<{ id: string }>(
      `select j.id from job j join vehicle v on v.id = j.vehicle_id where v.unit = 'P03' and j.state = 'in work'`,
    );
    const id = job?.id ?? '';
    await workThrough(test, technician, id);
    const step = async () =>
      (await cardOf(technician, id)).steps.find((one) => one.id === 'torque Bracket bolt/1/left');
    expect((await step())?.done).not.toBeNull();
    const [revised] = await sql<{ specification_id: string; revision_id: string }>(
      `select s.id as specification_id, s.released_revision_id as revision_id from specification s join joint_kind k on k.id = s.joint_kind_id
       join vehicle v on v.model_id = s.model_id where v.unit = 'P03' and s.axle = 1 and k.name = 'Bracket bolt'`,
    );
    // A second revision, entered by one and released by another, 20 lbf·ft higher.
    const next = randomUUID();
    await sql(
      `insert into specification_revision (id, specification_id, number, detail, document, page, revision, dated, entered_by, entered_on)
       select ?, specification_id, 9, jsonb_set(jsonb_set(detail, '{torque,nominal}', '150'), '{torque,statedToo}', 'null'), document, page, 'D', dated, ?, ? from specification_revision where id = ?`,
      [next, test.idOf('technician'), TODAY, revised?.revision_id],
    );
    await sql(
      `insert into specification_attempt (id, revision_id, person_id, typed, differing, answer) values (?, ?, ?, '{}', '[]', '{}')`,
      [next, next, test.idOf('coordinator')],
    );
    await sql(
      `insert into specification_release (revision_id, attempt_id, entered_by, released_by, released_on, detail)
       select id, id, entered_by, ?, ?, detail from specification_revision where id = ?`,
      [test.idOf('coordinator'), TODAY, next],
    );
    await sql('update specification set released_revision_id = ? where id = ?', [next, revised?.specification_id]);
    expect(await step()).toMatchObject({ done: null, again: expect.stringContaining('now 150 lbf·ft') });
  });

  it('keeps photos of steps, prints them, and refuses what is none', async () => {
    const id = await begin('P04');
    const photo = (jpegBase64: string) =>
      technician
        .post('/api/job-photos')
        .send({ id: randomUUID(), jobId: id, step: 'look/1/left', takenAt: `${TODAY}T09:00:00Z`, jpegBase64 });
    expect(
      (
        await photo(
          Buffer.from('this is no picture, though long enough to be one '.repeat(5)).toString('base64'),
        ).expect(422)
      ).body.errors[0].field,
    ).toBe('jpegBase64');
    // 40 MB: refused by its size alone, nothing else is lost.
    await photo('A'.repeat(40 * 1024 * 1024)).expect(413);
    const { body } = await photo((await greyPicture()).toString('base64')).expect(201);
    await technician.get(`/api/job-photos/${body.id}`).expect(200).expect('Content-Type', /jpeg/);
    const pdf = await technician.get(`/api/jobs/${id}/record.pdf`).expect(200);
    const { text } = await readPdf(pdf.body as Buffer);
    expect(text).toContain('Look, axle 1 left, 20 Nov 2026 09:00');
  });
});
