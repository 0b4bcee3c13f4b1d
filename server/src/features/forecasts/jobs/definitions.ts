import type { Logger } from 'pino';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import type { AnyJob, JobDefinition, JobKind, Jobs } from '../../../platform/jobs/registry.ts';
import type { Computer } from '../computer.ts';
import { FAILED_SO } from './failures.ts';
import { refreshFleet, refreshVehicles } from './refresh.ts';
import { MODEL_VERSION } from './saveForecasts.ts';

/** Asks for forecasts to be brought up to date; the work is done by jobs. */
export interface RefreshQueue {
  vehicles(ids: string[]): Promise<void>;
  fleet(): Promise<void>;
  /** New readings or studies came: appraisers are learnt anew before long, once for all that came meanwhile. */
  appraisersSoon(): Promise<void>;
  /** More vehicles than this are computed with the fleet. */
  mostOneByOne: number;
}

const Vehicle = z.object({ id: z.uuid() });
const Nothing = z.object({});

const REFRESH_VEHICLE: JobKind<{ id: string }> = { name: 'refresh-vehicle', schema: Vehicle, key: ({ id }) => id };
const REFRESH_FLEET: JobKind<object> = { name: 'refresh-fleet', schema: Nothing, key: () => 'fleet' };
/** Keeps the name it had, so that what an earlier version queued is still done. */
const LEARN_APPRAISERS: JobKind<object> = { name: 'learn-hands', schema: Nothing, key: () => 'hands' };

/** How long new readings may wait before appraisers are learnt anew, s. */
const APPRAISERS_AFTER_S = 300;
/** It is asked for anew well before it begins: what comes after that is not in it. */
const ASKED_ANEW_S = APPRAISERS_AFTER_S / 2;
const MOST_ONE_BY_ONE = 20;
const VEHICLES_AT_ONCE = 25;
const FLEET_EXPIRES_S = 1800;

export function refreshQueue(ask: Jobs['ask']): RefreshQueue {
  // Until the one that waits begins, whoever asks need not ask the queue again.
  let asked = -Infinity;
  const now = () => performance.now() / 1000;
  return {
    vehicles: async (ids) => {
      for (const id of ids) await ask(REFRESH_VEHICLE, { id });
    },
    fleet: async () => {
      await ask(REFRESH_FLEET, {});
    },
    appraisersSoon: async () => {
      if (now() < asked + ASKED_ANEW_S) return;
      // One that waits already was asked for at a time that is not known here.
      if (await ask(LEARN_APPRAISERS, {}, { afterS: APPRAISERS_AFTER_S })) asked = now();
    },
    mostOneByOne: MOST_ONE_BY_ONE,
  };
}

/** The jobs of this feature. */
export function forecastJobs(
  fork: () => EntityManager,
  computer: Computer,
  today: () => string,
  ask: Jobs['ask'],
  logger?: Logger,
): AnyJob[] {
  const failed = (unit: string, reason: string) => logger?.error({ unit, reason }, 'a forecast could not be made');
  const refreshSome: JobDefinition<{ id: string }> = {
    ...REFRESH_VEHICLE,
    prompt: true,
    retry: 3,
    batch: VEHICLES_AT_ONCE,
    run: async (items, tools) => {
      const ids = items.map(({ id }) => id);
      await refreshVehicles(fork(), computer, ids, today(), { ...tools, failed });
    },
  };
  const refreshAll: JobDefinition<object> = {
    ...REFRESH_FLEET,
    prompt: true,
    retry: 3,
    expiresS: FLEET_EXPIRES_S,
    run: async (_items, tools) => refreshFleet(fork(), computer, today(), { ...tools, failed }),
  };
  const learn: JobDefinition<object> = {
    ...LEARN_APPRAISERS,
    retry: 3,
    run: async () => {
      await ask(REFRESH_FLEET, {});
    },
  };
  return [refreshSome, refreshAll, learn];
}

/** Whether the whole fleet's forecasts are being made: a condition on the record of jobs. */
export const FLEET_IS_REFRESHED = `exists (select 1 from job_run where name = '${REFRESH_FLEET.name}' and state = 'running')`;

/**
 * Asks for what is behind. That a vehicle's forecast is behind stands in its row (input_rev), so nothing is lost where a
 * process dies between a write and its job. The fleet learns anew where many forecasts are of another day or version, or
 * were never made; many that are behind what was just entered are a busy hour, and are made one by one,
 * unless the whole fleet's are being made: those that were behind come first there.
 */
export async function catchUp(em: EntityManager, today: string, queue: RefreshQueue): Promise<void> {
  const behind = await rowsOf(
    em,
    z.object({ id: z.string(), old: z.boolean() }),
    `select id, old from (
       select v.id, v.left_on, f.input_rev < v.input_rev as behind, f.vehicle_id is null or f.today <> ?::date
         or exists (select 1 from forecast x where x.vehicle_id = v.id and x.model_version <> ?) as old
       from vehicle v left join vehicle_forecast f on f.vehicle_id = v.id) as stands
     where (left_on is null and (behind or old) and not exists (${FAILED_SO} and x.vehicle_id = stands.id))
       or (left_on is not null and exists (select 1 from forecast x where x.vehicle_id = stands.id))`,
    [today, MODEL_VERSION, MODEL_VERSION, today],
  );
  const [{ validated, refreshed } = { validated: true, refreshed: false }] = await rowsOf(
    em,
    z.object({ validated: z.boolean(), refreshed: z.boolean() }),
    `select exists (select 1 from validation) or not exists (select 1 from vehicle) as validated,
       ${FLEET_IS_REFRESHED} as refreshed`,
  );
  if (behind.filter(({ old }) => old).length > queue.mostOneByOne || !validated) await queue.fleet();
  else if (behind.length > 0 && !refreshed) await queue.vehicles(behind.map(({ id }) => id));
}
