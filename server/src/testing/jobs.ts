import { randomUUID } from 'node:crypto';
import type supertest from 'supertest';
import type { CardStep, JobCard, JobEntry } from '@mile-mark/contract/jobs';
import { torqueIn, torqueToNm } from '@mile-mark/core';
import type { TestApp } from './app.ts';
import { TODAY, type Beginning } from './databases.ts';

type Agent = ReturnType<typeof supertest.agent>;
type WithoutId<T> = T extends unknown ? Omit<T, 'id' | 'doneAt'> : never;
export type EntryBody = WithoutId<JobEntry>;

/** The demo's fleet in small, its forecasts made under the assumed priors. */
export const WORKSHOP: Beginning = { vehicles: 30, marks: 'assumed' };

/** What a unit's odometer is expected to show today, and some miles more. */
export async function odometerOf(test: TestApp, unit: string, more = 1): Promise<string> {
  const [row] = await test.orm.em
    .fork()
    .execute<{ miles: number }[]>(
      `select (f.detail->>'odometerNowMi')::float8 as miles from vehicle_forecast f join vehicle v on v.id = f.vehicle_id where v.unit = ?`,
      [unit],
    );
  return `${Math.round(row?.miles ?? 0) + more} mi`;
}

export const entry = (body: EntryBody): JobEntry => ({ ...body, id: randomUUID(), doneAt: `${TODAY}T08:00:00Z` });

export async function write(agent: Agent, jobId: string, ...bodies: EntryBody[]): Promise<supertest.Response> {
  return agent.post(`/api/jobs/${jobId}/entries`).send({ entries: bodies.map(entry) });
}

export async function cardOf(agent: Agent, jobId: string): Promise<JobCard> {
  return (await agent.get(`/api/jobs/${jobId}/card`).expect(200)).body as JobCard;
}

/** A valid signature of a step: what a careful person would write. */
function signatureOf(card: JobCard, step: CardStep): EntryBody[] {
  const limits = card.limits.find(({ axle }) => axle === step.axle);
  switch (step.kind) {
    case 'check':
      return [{ kind: 'check', step: step.id, state: step.states[0] ?? '' }];
    case 'level':
      return [
        { kind: 'level', step: step.id, level: 1 - (card.fluid?.expectedMl ?? 0) / (card.fluid?.betweenMarksMl ?? 1) },
      ].map((one) => ({ ...one, level: Math.max(-0.5, Math.min(1, one.level)) }) as EntryBody);
    case 'pads left':
      return [{ kind: 'pads left', step: step.id, innerMm: limits?.newMm ?? 10, outerMm: limits?.newMm ?? 10 }];
    case 'rotor left':
      return [{ kind: 'rotor left', step: step.id, mm: (limits?.rotorDiscardMm ?? 20) + 1.5 }];
    case 'count':
      return [{ kind: 'count', step: step.id, stops: card.bedIn?.stops ?? 5 }];
    case 'torque':
      return step.torque.map(({ torque, position, revision }) => {
        const value = torque?.nominal ?? torque?.least ?? 0;
        const unit = torque?.unit ?? 'N·m';
        return { kind: 'torque', step: step.id, position, value, unit, toolId: wrenchFor(card, value, unit), revision };
      });
    default:
      return [{ kind: step.kind, step: step.id }];
  }
}

/** Tools as `GET card` lists them carry no range: the test looks it up once and keeps it here. */
const RANGES = new Map<
  string,
  { least: number; most: number; unit: 'N·m' | 'lbf·ft' | 'lbf·in'; due: string | null }
>();
async function learnRanges(test: TestApp): Promise<void> {
  const rows = await test.orm.em.fork().execute<
    { id: string; least: number; most: number; unit: 'N·m'; due: string | null }[]
  >(`select t.id, t.least::float8, t.most::float8, t.unit, (select max(c.due)::text from tool_calibration c where c.tool_id = t.id) as due
     from torque_tool t where t.kind = 'wrench'`);
  for (const { id, ...range } of rows) RANGES.set(id, range);
}

function wrenchFor({ tools }: JobCard, value: number, unit: 'N·m' | 'lbf·ft' | 'lbf·in'): string {
  const fits = tools.find(({ id }) => {
    const range = RANGES.get(id);
    if (!range || range.due === null || range.due < TODAY) return false;
    const own = torqueIn(torqueToNm(value, unit), range.unit);
    return own >= range.least && own <= range.most;
  });
  return fits?.id ?? tools[0]?.id ?? randomUUID();
}

/** Measures an axle as found, as the bay would. */
export async function measure(test: TestApp, agent: Agent, unit: string, axle: number, mm: number): Promise<void> {
  const [gauge] = await test.orm.em
    .fork()
    .execute<{ id: string }[]>(`select id from gauge where unit = 'mm' order by name limit 1`);
  const odometer = await odometerOf(test, unit, 0);
  await agent
    .post('/api/readings')
    .send({
      inspection: {
        id: randomUUID(),
        unit,
        gaugeId: gauge?.id,
        date: TODAY,
        odometer,
      },
      readings: (['left', 'right'] as const).flatMap((side) =>
        (['inner', 'outer'] as const).map((pad) => ({ id: randomUUID(), axle, side, pad, thickness: `${mm} mm` })),
      ),
    })
    .expect(201);
}

/** Signs everything a job holds open but for the steps named. */
export async function workThrough(
  test: TestApp,
  agent: Agent,
  jobId: string,
  except: readonly string[] = [],
): Promise<JobCard> {
  await learnRanges(test);
  const card = await cardOf(agent, jobId);
  for (const { kind, axle } of card.steps)
    if (kind === 'measure' && axle !== null && !except.includes('as found'))
      await measure(test, agent, card.job.unit, axle, 4.5);
  const bodies = card.steps
    .filter(({ id, kind }) => kind !== 'measure' && !except.includes(id))
    .flatMap((step) => signatureOf(card, step));
  for (let i = 0; i < bodies.length; i += 50) {
    const answer = await write(agent, jobId, ...bodies.slice(i, i + 50));
    if (answer.status !== 201) throw new Error(JSON.stringify(answer.body));
  }
  // What the level brought to the card: fluid to draw off.
  const more = (await cardOf(agent, jobId)).steps.filter(
    ({ id, done }) => done === null && !except.includes(id) && !card.steps.some((one) => one.id === id),
  );
  if (more.length > 0) await write(agent, jobId, ...more.flatMap((step) => signatureOf(card, step)));
  return cardOf(agent, jobId);
}
