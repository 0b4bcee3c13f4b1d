import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type supertest from 'supertest';
import type { JobLessons } from '@mile-mark/contract/jobs';
import { createTestApp, type TestApp, TODAY } from '../../testing/app.ts';
import { cardOf, entry, odometerOf, workThrough, write, WORKSHOP } from '../../testing/jobs.ts';
import { bookTimes, timesOf } from './times.ts';

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
const lessons = async () => (await technician.get('/api/job-lessons').expect(200)).body as JobLessons;
async function begin(unit: string): Promise<string> {
  const id = randomUUID();
  const axles = [{ axle: 1, added: [{ action: 'pads', reason: 'the test asks for it' }] }];
  await coordinator.post('/api/jobs').send({ id, unit, axles, day: TODAY }).expect(201);
  await technician.post(`/api/jobs/${id}/moves`).send({ id: randomUUID(), verb: 'start' }).expect(201);
  return id;
}

describe('times of a card', () => {
  const steps = [
    { id: 'stands/1', step: 'stands', kind: 'do' as const, axle: 1, minutes: 5 },
    { id: 'as found/1', step: 'as found', kind: 'measure' as const, axle: 1, minutes: 6 },
    { id: 'wheel off/1/left', step: 'wheel off', kind: 'do' as const, axle: 1, minutes: 3 },
    { id: 'wheel off/1/right', step: 'wheel off', kind: 'do' as const, axle: 1, minutes: 3 },
  ];
  const none = new Map<number, { at: string }>();
  const at = (minute: number) => new Date(Date.UTC(2026, 10, 20, 8, minute)).toISOString();
  const row = (kind: string, minute: number, step: string | null = null) => ({
    kind,
    step,
    done_at: at(minute),
    entered_at: at(minute + 90),
  });

  it('are told by when things were done, not by when they arrived, and whatever the order in which they did', () => {
    const entries = [
      row('do', 12, 'wheel off/1/left'),
      row('do', 8, 'stands/1'),
      row('pause', 13),
      row('take up', 40),
      row('do', 46, 'wheel off/1/right'),
      row('note', 47, 'stands/1'),
      row('undo', 60, 'stands/1'),
      row('do', 50, 'a step that left the card'),
    ];
    expect(timesOf({ entries, steps, measured: none, startedAt: at(0) })).toEqual({
      spent: [
        { step: 'stands', minutes: 8, usualMin: 5 },
        { step: 'wheel off', minutes: 10, usualMin: 6 },
      ],
      usualMin: 17,
      workedMin: (18 * 17) / 11,
    });
  });

  it('are those of measuring too, where it was done within the work', () => {
    const entries = [row('do', 8, 'stands/1'), row('do', 20, 'wheel off/1/left')];
    const of = (minute: number) =>
      timesOf({ entries, steps, measured: new Map([[1, { at: at(minute) }]]), startedAt: at(2) }).spent;
    expect(of(15)).toEqual([
      { step: 'stands', minutes: 6, usualMin: 5 },
      { step: 'as found', minutes: 7, usualMin: 6 },
      { step: 'wheel off', minutes: 5, usualMin: 3 },
    ]);
    expect(of(1).map(({ step }) => step)).toEqual(['stands', 'wheel off']);
  });

  it('are none where nothing was timed', () => {
    const nothing = timesOf({ entries: [], steps, measured: none, startedAt: undefined });
    expect(nothing).toEqual({ spent: [], usualMin: 17, workedMin: undefined });
  });

  it('add up whatever the order in which closings write them, and two at once lose nothing', async () => {
    const spent = (minutes: number) => ({
      spent: ['wheel off', 'stands'].map((step) => ({ step, minutes, usualMin: 4 })),
      usualMin: 8,
      workedMin: 8,
    });
    await Promise.all(
      Array.from({ length: 8 }, (_, k) =>
        test.orm.em.fork().transactional((em) => bookTimes(em, 'trial', [spent(k % 2 === 0 ? 8 : 2)])),
      ),
    );
    const rows = await sql<{ step: string; n: number; sum_ln: number; sum_ln2: number }>(
      `select * from step_time where class = 'trial' order by step`,
    );
    expect(rows.map(({ step, n }) => [step, n])).toEqual([
      ['stands', 8],
      ['wheel off', 8],
    ]);
    for (const { sum_ln, sum_ln2 } of rows) {
      expect(sum_ln).toBeCloseTo(0, 9);
      expect(sum_ln2).toBeCloseTo(8 * Math.log(2) ** 2, 9);
    }
    await sql(`delete from step_time where class = 'trial'`);
  });
});

describe('what jobs teach', () => {
  it('tells minutes by kind of work, with an interval that narrows as jobs come', async () => {
    const { jobs, steps, closed } = await lessons();
    const [{ count = 0 } = {}] = await sql<{ count: number }>(`select count(*)::int from job where state = 'closed'`);
    expect(closed).toBe(count);
    expect(jobs.reduce((sum, one) => sum + one.jobs, 0)).toBe(count);
    for (const { minutes } of [...jobs, ...steps]) {
      expect(minutes.low).toBeLessThan(minutes.value);
      expect(minutes.high).toBeGreaterThan(minutes.value);
    }
    const width = ({ minutes: { low, high } }: JobLessons['jobs'][number]) => Math.log(high / low);
    const [most, ...others] = jobs;
    const least = others.at(-1);
    if (!most || !least) throw new Error('the demo has more than one kind of job');
    expect(width(most)).toBeLessThan(width(least));
    // The demo's own: rusty channels take 1.6 times the usual, which a dozen cards show beyond doubt.
    const channels = steps.find(({ step, jobs: n }) => step === 'channels' && n > 8);
    expect(channels?.minutes.low).toBeGreaterThan(channels?.usualMin ?? Infinity);
  });

  it('counts a closing once: its minutes, its part beyond the plan, and the card learns', async () => {
    const id = await begin('P02');
    await workThrough(test, technician, id);
    // The walk signs at one moment, three hours after this wheel took thirty minutes.
    const before = await lessons();
    await write(technician, id, { kind: 'part', what: ' Pin boot kit', quantity: 2 });
    await technician
      .post(`/api/jobs/${id}/entries`)
      .send({
        entries: [
          { ...entry({ kind: 'take up' }), doneAt: `${TODAY}T05:00:00Z` },
          { ...entry({ kind: 'do', step: 'wheel off/1/left' }), doneAt: `${TODAY}T05:30:00Z` },
        ],
      })
      .expect(201);
    const own = { id: randomUUID(), odometer: await odometerOf(test, 'P02') };
    await technician.post(`/api/jobs/${id}/close`).send(own).expect(201);
    await technician.post(`/api/jobs/${id}/close`).send(own).expect(201);
    const after = await lessons();
    const stepOf = ({ steps }: JobLessons, step: string) =>
      steps.find((one) => one.class === 'pickup' && one.step === step);
    expect(stepOf(after, 'wheel off')?.jobs).toBe((stepOf(before, 'wheel off')?.jobs ?? 0) + 1);
    expect(stepOf(after, 'wheel off')?.minutes.value).toBeGreaterThan(stepOf(before, 'wheel off')?.minutes.value ?? 0);
    expect(after.closed).toBe(before.closed + 1);
    const part = after.parts.find(({ what }) => what.toLowerCase() === 'pin boot kit');
    expect(part).toMatchObject({ class: 'pickup', quantity: 2, jobs: 1 });
    expect(part?.share.value).toBeCloseTo(1 / (part?.of ?? 0));
    expect(part?.share.high).toBeGreaterThan(part?.share.value ?? 1);
  });

  it('puts the shop’s own minutes on the next card', async () => {
    const id = await begin('P05');
    const card = await cardOf(technician, id);
    const { steps } = await lessons();
    const own = steps.find(({ step, class: name }) => name === 'pickup' && step === 'channels');
    const shown = card.steps.find((step) => step.id === 'channels/1/left');
    expect(shown?.minutes).toBeCloseTo(Math.round((own?.minutes.value ?? 0) * 2) / 2);
    expect(card.needs.timedJobs).toBeGreaterThan(8);
    expect(card.needs.minutes).toBeCloseTo(card.steps.reduce((sum, { minutes }) => sum + minutes, 0));
    await sql(`update job set state = 'called off' where id = ?`, [id]);
  });

  it('holds a fault against the job before it at its axle, and counts only jobs old enough', async () => {
    const before = await lessons();
    const [job] = await sql<{ id: string; unit: string; closed: string }>(
      `select j.id, v.unit, j.closed_on::text as closed from job j join vehicle v on v.id = j.vehicle_id
       where j.state = 'closed' and j.closed_on < '${TODAY}'::date - 200 and not exists (select 1 from defect d where d.vehicle_id = v.id)
         and not exists (select 1 from job o where o.vehicle_id = v.id and o.id <> j.id and o.closed_on > j.closed_on)
       order by j.closed_on limit 1`,
    );
    if (!job) throw new Error('the demo has an old closed job without a fault');
    const tell = (axle: number, days: number) =>
      sql(
        `insert into defect (id, vehicle_id, kind, axle, item, severity, said_by, found_on, person_id)
         select gen_random_uuid(), j.vehicle_id, 'complaint', ?, 'two shops disagree', 'note', 'A driver', j.closed_on + ?, j.created_by from job j where j.id = ?`,
        [axle, days, job.id],
      );
    const [{ axle = 1 } = {}] = await sql<{ axle: number }>('select axle from job_axle where job_id = ? limit 1', [
      job.id,
    ]);
    await tell(axle === 1 ? 2 : 1, 10);
    await tell(axle, before.withinDays + 1);
    const of = (all: JobLessons) => all.faults.filter(({ text }) => text === 'two shops disagree');
    expect(of(await lessons())).toEqual([]);
    await tell(axle, before.withinDays);
    const [fault] = of(await lessons());
    expect(fault).toMatchObject({ jobs: 1 });
    expect(fault?.share.value).toBeCloseTo(1 / (fault?.of ?? 0));
    expect((await lessons()).followed).toContainEqual(
      expect.objectContaining({ unit: job.unit, jobId: job.id, days: before.withinDays }),
    );
  });
});

describe('what a job takes', () => {
  it('stands on its card: parts, tools, wrenches, lifting', async () => {
    const id = await begin('V01');
    const { needs, fluid } = await cardOf(technician, id);
    expect(needs.kit).toContainEqual({
      part: 'brake pad',
      quantity: 4,
      amount: null,
      side: 'both',
      axle: 1,
      oneTimeUse: false,
    });
    expect(needs.kit).toContainEqual(expect.objectContaining({ part: 'brake cleaner', quantity: null, amount: 200 }));
    expect(needs.kit.find(({ part }) => part === 'wear sensor')).toMatchObject({ quantity: 1, side: 'left' });
    expect(needs.tools).toEqual(expect.arrayContaining(['piston retractor', 'rated jack and stands']));
    expect(needs.wrenches.map(({ joint }) => joint)).toContain('Wheel nut');
    expect(needs.lifting.points).toMatch(/sill/);
    expect(fluid).toMatchObject({ betweenMarksMl: 140, marksStated: true });
    await sql(`update job set state = 'called off' where id = ?`, [id]);
  });
});
