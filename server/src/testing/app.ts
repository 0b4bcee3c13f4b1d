import type { Express } from 'express';
import { randomUUID } from 'node:crypto';
import supertest from 'supertest';
import type { Role } from '@mile-mark/contract';
import { createApp } from '../app.ts';
import { computePool } from '../compute.ts';
import { forecastSubscriber, refreshFleet, type RefreshQueue, refreshVehicles } from '../features/forecasts/index.ts';
import { defectSubscriber } from '../features/jobs/index.ts';
import { actorOf, PersonEntity, SESSION_COOKIE } from '../features/people/index.ts';
import { reachOf } from '../features/plan/index.ts';
import { hashPassword } from '../platform/auth/password.ts';
import type { Orm } from '../platform/db/orm.ts';
import { createLogger } from '../platform/log.ts';
import type { Logger } from 'pino';
import { createBus, type EventBus } from '../platform/events/bus.ts';
import { connect, CONNECTIONS } from '../schema.ts';
import { checkedAnswers } from './checkedAnswers.ts';
import { createTestDatabase, localComputer, TODAY, type Beginning } from './databases.ts';

export { localComputer, TODAY };
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

/** A database filled with the demo fleet, forecasts not computed yet. */
export async function createDemoDatabase(vehicles: number): Promise<{ orm: Orm; close: () => Promise<void> }> {
  const { url, drop } = await createTestDatabase({ vehicles });
  const orm = await connect(url);
  return {
    orm,
    close: async () => {
      await orm.close(true);
      await drop();
    },
  };
}

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

interface TestAppOptions {
  /** What its database begins with: what is shipped alone where nothing is said. */
  demo?: Beginning;
  webFolder?: string;
  trustProxy?: number;
  secure?: boolean;
  logger?: Logger;
  /** Whether long work has connections of its own, as in a process of its own. */
  longApart?: boolean;
}

export async function createTestApp({
  demo,
  webFolder,
  trustProxy = 0,
  secure = trustProxy > 0,
  logger = createLogger(process.env.TEST_LOG ?? 'silent'),
  longApart = false,
}: TestAppOptions = {}): Promise<TestApp> {
  const database = await createTestDatabase(demo);
  const orm = await connect(database.url);
  const longOrm = longApart ? await connect(database.url, CONNECTIONS.long) : undefined;
  const fork = () => orm.em.fork();
  const events = createBus(fork, [forecastSubscriber(refreshAtOnce(orm)), defectSubscriber]);
  const app = createApp({
    orm,
    longOrm,
    logger,
    events,
    jobs: { ask: async () => true, state: () => 'ok' },
    actorOf,
    reachOf,
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
    build: 'test',
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
      await longOrm?.close(true);
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

/** The application with a small fleet, and who measures and plans there signed in. */
export async function smallFleetApp() {
  const test = await createTestApp();
  const { gaugeId } = await fillSmallFleet(test);
  return { test, gaugeId, coordinator: await test.as('coordinator'), technician: await test.as('technician') };
}
export type SmallFleetApp = Awaited<ReturnType<typeof smallFleetApp>>;
