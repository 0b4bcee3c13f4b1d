import type { EntitySchema } from '@mikro-orm/core';
import * as forecasts from './features/forecasts/entities.ts';
import * as gauges from './features/gauges/entities.ts';
import * as imports from './features/imports/entities.ts';
import * as inspections from './features/inspections/entities.ts';
import * as jobsOfVehicles from './features/jobs/entities.ts';
import * as parts from './features/parts/entities.ts';
import * as plans from './features/plan/entities.ts';
import * as people from './features/people/entities.ts';
import * as register from './features/register/entities.ts';
import * as specifications from './features/specifications/entities.ts';
import * as telematics from './features/telematics/entities.ts';
import { MIGRATIONS } from './migrations/index.ts';
import * as answers from './platform/answers/entities.ts';
import * as command from './platform/command/entities.ts';
import { openDatabase, type Orm } from './platform/db/orm.ts';
import * as events from './platform/events/entities.ts';
import * as jobs from './platform/jobs/entities.ts';

/** Every table of the application, one entity each. */
const ENTITIES = [
  people,
  register,
  gauges,
  inspections,
  telematics,
  forecasts,
  specifications,
  jobsOfVehicles,
  parts,
  plans,
  imports,
  answers,
  command,
  events,
  jobs,
].flatMap((room) => Object.values<EntitySchema>(room));

/**
 * Connections a process holds at once: to answer with, for jobs, and for requests that are long work (a file taken in, an
 * archive written), so that no long work keeps a request waiting for one.
 */
export const CONNECTIONS = { requests: 8, jobs: 4, long: 3 };

/** Connects to the application's database. */
export function connect(url: string, connections = CONNECTIONS.requests): Promise<Orm> {
  return openDatabase({ url, entities: ENTITIES, migrations: MIGRATIONS, connections });
}
