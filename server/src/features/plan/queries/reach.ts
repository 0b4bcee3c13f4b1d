import { z } from 'zod';
import { vehiclesOf } from '../../../events.ts';
import type { Actor } from '../../../platform/auth/policy.ts';
import type { Reach } from '../../../platform/auth/reach.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { firstRow, rowsOf } from '../../../platform/db/rows.ts';

const PlaceSql = z.object({ kind: z.enum(['vehicle', 'depot']), id: z.string(), name: z.string(), own: z.boolean() });

/** Depots and vehicles, and whether they are within a person's: also a vehicle of another depot that one of theirs does. */
const PLACES = `
  with mine as (select unnest(?::uuid[]) as depot_id),
  guests as (
    select vehicle_id from job where depot_id in (select depot_id from mine) and state in ('proposed', 'booked', 'in work')
    union select p.vehicle_id from plan_visit p join plan s on s.id = p.plan_id
      where s.state = 'published' and p.depot_id in (select depot_id from mine))
  select 'depot' as kind, d.id, d.name, d.id in (select depot_id from mine) as own from depot d
  union all select 'vehicle', v.id, v.unit, v.depot_id in (select depot_id from mine) or v.id in (select vehicle_id from guests)
  from vehicle v order by 1, 3`;

/** Of what a subject is, by its kind: the vehicle or the depot that decides, or who took a file in. */
const DECIDES: Readonly<Record<string, string>> = {
  job: 'select vehicle_id as vehicle, depot_id as depot, null::uuid as person from job where id = ?',
  'job photo':
    'select j.vehicle_id as vehicle, j.depot_id as depot, null::uuid as person from job_photo p join job j on j.id = p.job_id where p.id = ?',
  photo:
    'select i.vehicle_id as vehicle, null::uuid as depot, null::uuid as person from photo p join inspection i on i.id = p.inspection_id where p.id = ?',
  service: 'select vehicle_id as vehicle, null::uuid as depot, null::uuid as person from service where id = ?',
  order: 'select null::uuid as vehicle, depot_id as depot, null::uuid as person from purchase_order where id = ?',
  import: `select null::uuid as vehicle, null::uuid as depot, person_id as person from (
    select id, person_id from import_batch union all select id, person_id from import_draft) own where id = ?`,
};
const DecidesSql = z.object({
  vehicle: z.string().nullable(),
  depot: z.string().nullable(),
  person: z.string().nullable(),
});

/**
 * How far somebody reaches who is limited to depots: what is there, what is done there, and what is no depot's in
 * particular (models, specifications, the catalogue, gauges). Files they took in are theirs alone.
 */
export async function reachOf(em: EntityManager, { id, limitedTo = [] }: Actor): Promise<Reach | undefined> {
  if (limitedTo.length === 0) return undefined;
  const places = await rowsOf(em, PlaceSql, PLACES, [`{${limitedTo.join()}}`]);
  const of = (kind: string, own: boolean) => places.filter((one) => one.kind === kind && one.own === own);
  const names = (kind: string, own: boolean) => new Set(of(kind, own).map(({ name }) => name));
  const others = new Set([...of('vehicle', false), ...of('depot', false)].map((one) => one.id));
  const key = (name: string, kind: string) => ({ key: name, own: names(kind, true), others: names(kind, false) });
  const mine = new Set(places.filter(({ own }) => own).map((one) => one.id));
  return {
    told: of('depot', true)
      .map(({ name }) => name)
      .join(' and '),
    // Who or what is away is told under `of`, a depot itself by its id.
    names: [
      key('unit', 'vehicle'),
      key('of', 'vehicle'),
      { key: 'id', own: mine, others },
      key('depot', 'depot'),
      key('of', 'depot'),
    ],
    holdsEvent: (event) => vehiclesOf(event).every((vehicle) => !others.has(vehicle)),
    holds: async (inner, subject) => {
      const [kind = '', about = ''] = subject.split('/');
      if (kind === 'vehicle' || kind === 'depot') return !others.has(about);
      const sql = DECIDES[kind];
      if (sql === undefined) return true;
      const found = await firstRow(inner, DecidesSql, sql, [about]);
      // What is not there yet is theirs to make; what never was is for who looks for it to say.
      if (!found) return true;
      if (found.person !== null) return found.person === id;
      // A guest's job stays with the depot that did it.
      return [found.vehicle, found.depot].some((one) => one !== null && !others.has(one));
    },
  };
}
