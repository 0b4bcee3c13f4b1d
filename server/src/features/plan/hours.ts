import { JobAction } from '@mile-mark/contract/jobs';
import { workKind, type JobAction as Action, type WorkKind } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';

/** Hours of an axle of a class; of what is asked for there, where a job says so, else as its jobs were in the mean. */
export type HoursOf = (vehicleClass: string, actions?: readonly Action[] | null) => number;

/** Minutes an axle takes where no card has taught it (common practice, no source), and how many axles that counts for. */
const USUAL_MIN: Readonly<Record<string, number>> = { pickup: 75, van: 80, heavy: 150 };
const USUAL_CLASS_MIN = 90;
const USUAL_WEIGHT = 6;
/** What a kind of work takes against pads alone, until cards have taught it (common practice, no source). */
const AGAINST_PADS: Readonly<Record<WorkKind, number>> = {
  pads: 1,
  'pads, rotors scuffed': 1.1,
  'pads and rotors': 1.35,
  'pads, rotors machined': 1.7,
  rotors: 1.2,
  'other work': 0.6,
};
const MINUTES = 60;

const ClosedSql = z.object({
  class: z.string(),
  minutes: z.number(),
  axles: z.number(),
  actions: z.array(z.array(JobAction)).transform((byAxle) => byAxle.flat()),
});
const CLOSED = `
  select m.class, j.worked_min::float8 as minutes, a.axles, a.actions
  from job j join vehicle v on v.id = j.vehicle_id join model m on m.id = v.model_id
    join (select job_id, count(*)::int as axles, jsonb_agg(jsonb_path_query_array(scope, '$[*].action')) as actions
      from job_axle group by job_id) a on a.job_id = j.id
  where j.state = 'closed' and j.worked_min is not null`;

interface Taught {
  minutes: number;
  axles: number;
  /** Minutes that as many axles of such work would take on usual cards. */
  usual: number;
}

/**
 * Hours of an axle by class and work: what cards took, drawn towards the class's own pace on usual work while there are
 * few of such work, and that pace towards the usual while there are few of the class.
 */
export async function hoursByScope(em: EntityManager): Promise<HoursOf> {
  const taught = new Map<string, Taught>();
  for (const { class: name, minutes, axles, actions } of await rowsOf(em, ClosedSql, CLOSED)) {
    const usual = axles * usualMinutes(name, workKind(actions));
    for (const key of [name, `${name}/${workKind(actions)}`]) {
      const before = taught.get(key) ?? { minutes: 0, axles: 0, usual: 0 };
      taught.set(key, {
        minutes: before.minutes + minutes,
        axles: before.axles + axles,
        usual: before.usual + usual,
      });
    }
  }
  const drawn = (key: string, towards: number) => {
    const { minutes, axles } = taught.get(key) ?? { minutes: 0, axles: 0 };
    return (USUAL_WEIGHT * towards + minutes) / (USUAL_WEIGHT + axles);
  };
  return (name, actions) => {
    const pads = usualMinutes(name, 'pads');
    if (!actions || actions.length === 0) return drawn(name, pads) / MINUTES;
    const { minutes, usual, axles } = taught.get(name) ?? { minutes: 0, usual: 0, axles: 0 };
    const mean = axles > 0 ? usual / axles : pads;
    const pace = (USUAL_WEIGHT * mean + minutes) / (USUAL_WEIGHT * mean + usual);
    const work = workKind(actions);
    return drawn(`${name}/${work}`, pace * usualMinutes(name, work)) / MINUTES;
  };
}

const usualMinutes = (name: string, work: WorkKind): number =>
  (USUAL_MIN[name] ?? USUAL_CLASS_MIN) * AGAINST_PADS[work];
