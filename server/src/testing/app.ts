import type { Express } from 'express';
import { randomBytes, randomUUID } from 'node:crypto';
import supertest from 'supertest';
import type { Role } from '@mile-mark/contract';
import { createApp } from '../app.ts';
import { fillDemo } from '../demo/fill.ts';
import { computePool } from '../compute.ts';
import {
  createComputer,
  forecastSubscriber,
  refreshFleet,
  type RefreshQueue,
  refreshVehicles,
} from '../features/forecasts/index.ts';
import { defectSubscriber } from '../features/jobs/index.ts';
import { actorOf, PersonEntity, SESSION_COOKIE } from '../features/people/index.ts';
import { ensureShippedLimits } from '../features/register/index.ts';
import { ensureShippedJoints } from '../features/specifications/index.ts';
import { checkedAnswers } from './checkedAnswers.ts';
import { hashPassword } from '../platform/auth/password.ts';
import { migrate, type Orm } from '../platform/db/orm.ts';
import { createLogger } from '../platform/log.ts';
import { createBus, type EventBus } from '../platform/events/bus.ts';
import { connect } from '../schema.ts';

export const TODAY = '2026-11-20';
export const PASSWORD = 'a long enough password';

/** The application on a database of its own, forecasts computed at once instead of by a job. */
export interface TestApp {
  app: Express;
  orm: Orm;
  events: EventBus;
  databaseUrl: string;
  /** A client signed in as a person of this role. */
  as: (role: Role) => Promise<ReturnType<typeof supertest.agent>>;
  idOf: (role: Role) => string;
  close: () => Promise<void>;
}

async function createTestDatabase(): Promise<{ url: string; drop: () => Promise<void> }> {
  const admin = process.env.TEST_DATABASE_URL;
  if (!admin) throw new Error('TEST_DATABASE_URL is not set: run these tests through npm test.');
  const name = `test_${randomBytes(6).toString('hex')}`;
  const run = async (sql: string) => {
    const orm = await connect(admin);
    try {
      await orm.em.getConnection().execute(sql);
    } finally {
      await orm.close(true);
    }
  };
  await run(`create database ${name} template ${await templateDatabase(admin, run)}`);
  return { url: admin.replace(/\/[^/]*$/, `/${name}`), drop: () => run(`drop database ${name} with (force)`) };
}

let template: Promise<string> | undefined;

/**
 * A database with every migration and what the application ships, made once a process: the others are copies of it.
 */
function templateDatabase(admin: string, run: (sql: string) => Promise<void>): Promise<string> {
  template ??= (async () => {
    const name = `template_${randomBytes(6).toString('hex')}`;
    await run(`create database ${name}`);
    const orm = await connect(admin.replace(/\/[^/]*$/, `/${name}`));
    await migrate(orm);
    await ensureShippedLimits(orm.em.fork());
    await ensureShippedJoints(orm.em.fork());
    await orm.close(true);
    return name;
  })();
  return template;
}

/** A database filled with the demo fleet, forecasts not computed yet. */
export async function createDemoDatabase(vehicles: number): Promise<{ orm: Orm; close: () => Promise<void> }> {
  const { url, drop } = await createTestDatabase();
  const orm = await connect(url);
  await fillDemo(orm.em.fork(), vehicles);
  return {
    orm,
    close: async () => {
      await orm.close(true);
      await drop();
    },
  };
}

/** Computes in the caller's thread. */
export const localComputer = () => createComputer(computePool(0));

/** A queue that does at once what it is asked. */
function refreshAtOnce(orm: Orm): RefreshQueue {
  const computer = localComputer();
  return {
    vehicles: async (ids) => refreshVehicles(orm.em.fork(), computer, ids, TODAY),
    fleet: async () => refreshFleet(orm.em.fork(), computer, TODAY),
    appraisersSoon: async () => undefined,
    mostOneByOne: Infinity,
  };
}

export async function createTestApp(
  webFolder?: string,
  trustProxy = 0,
  secure = trustProxy > 0,
  logger = createLogger(process.env.TEST_LOG ?? 'silent'),
): Promise<TestApp> {
  const database = await createTestDatabase();
  const orm = await connect(database.url);
  const fork = () => orm.em.fork();
  const events = createBus(fork, [forecastSubscriber(refreshAtOnce(orm)), defectSubscriber]);
  const app = createApp({
    orm,
    logger,
    events,
    jobs: { ask: async () => undefined, state: () => 'ok' },
    actorOf,
    answers: checkedAnswers(),
    sessionCookie: SESSION_COOKIE,
    today: () => TODAY,
    demo: false,
    feedConnected: false,
    pool: computePool(0),
    trustProxy,
    secure,
    webFolder,
    version: 'test',
  });
  const ids = new Map<Role, string>();
  const passwordHash = await hashPassword(PASSWORD);
  for (const role of ['coordinator', 'technician', 'parts keeper', 'viewer'] as const) {
    const id = randomUUID();
    ids.set(role, id);
    await orm.em.fork().insert(PersonEntity, {
      id,
      name: `The ${role}`,
      role,
      email: `${role.replace(' ', '-')}@dairy.example`,
      passwordHash,
      distanceUnit: 'mi',
      thicknessUnit: 'mm',
      createdAt: new Date(),
    });
  }
  return {
    app,
    orm,
    events,
    databaseUrl: database.url,
    as: async (role) => {
      const agent = supertest.agent(app);
      await agent
        .post('/api/session')
        .send({ email: `${role.replace(' ', '-')}@dairy.example`, password: PASSWORD })
        .expect(200);
      return agent;
    },
    idOf: (role) => ids.get(role) as string,
    close: async () => {
      await orm.close(true);
      await database.drop();
    },
  };
}

/** Papers of a small invented fleet, as CSV. */
export const PAPERS = {
  models: `model,class,tare_kg,gvwr_kg,axle,brake,pad_new_mm,backing_plate_mm,pad_maker_min_mm,rotor_new_mm,rotor_discard_mm,rotor_machine_to_mm,pistons_mm,brake_share
Fenby Hauler,pickup,2350,3400,1,"hydraulic sliding",11,5.8,2,32,30,30.4,2x51,0.7
Fenby Hauler,pickup,2350,3400,2,"hydraulic sliding, drum-in-hat parking brake",10,5.5,2,22,20,20.4,1x54,0.3
`,
  duties: `duty,stops_per_mile,mph_before_stop,payload_share,descent_m_per_mile,retarder_share,towed_kg,miles_per_day
herd rounds,0.8,35,0.35,12,0.15,900,70
street delivery,5.5,24,0.55,4,0.1,0,62
`,
  vehicles: `unit,model,depot,duty,duty_from,odometer_mi_at_start
P1,Fenby Hauler,Hill depot,herd rounds,2025-08-04,26031
P2,Fenby Hauler,Hill depot,herd rounds,2025-08-04,50000
`,
};

/** Imports the papers and puts a gauge on record; returns the gauge's id. */
export async function fillSmallFleet(test: TestApp): Promise<{ gaugeId: string }> {
  const coordinator = await test.as('coordinator');
  for (const [name, text] of Object.entries(PAPERS)) {
    await coordinator
      .post('/api/imports')
      .send({ fileName: `${name}.csv`, text })
      .expect(200);
  }
  const gaugeId = randomUUID();
  await coordinator
    .post('/api/gauges')
    .send({ id: gaugeId, name: 'Depth gauge', kind: 'digital depth gauge', resolutionMm: 0.1, unit: 'mm' })
    .expect(201);
  return { gaugeId };
}
