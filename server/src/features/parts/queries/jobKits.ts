import type { JobKit, KitWeeks, PartsDay } from '@mile-mark/contract/parts';
import { dateOfDay, dayNumber, type KitFault, type NeedState } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { BEGAN_US, kitChanges, kitVersion } from '../../jobs/index.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { listStock } from '../stock.ts';
import type { OpenJob } from '../kits.ts';
import { pickedOf, standingOf, type Standing } from './standing.ts';
import { listOrders } from './orders.ts';
import { transfersNow } from './demand.ts';

const NoticeSql = z.object({ job_id: z.string(), text: z.string(), at: z.string() });

/** How the kit of each open job stands, now; nothing where no part is in the catalogue yet. */
export async function jobKits(em: EntityManager, today: string, jobId?: string): Promise<JobKit[]> {
  const standing = await standingOf(em, today);
  const kits = await kitsOf(em, standing, jobId);
  if (jobId === undefined) return kits;
  const picks = await rowsOf(em, PickSql, PICKS, [jobId]);
  if (kits.length > 0) return kits.map((kit) => ({ ...kit, picks }));
  const [over] = await rowsOf(em, OverSql, OVER, [jobId]);
  if (!over || picks.length === 0) return [];
  const { model_id, began, ...job } = over;
  const { version } = kitVersion(await kitChanges(em), model_id, began);
  return [{ ...job, booked: true, state: 'over', until: null, needs: [], version, faults: [], notices: [], picks }];
}

const PickSql = z.object({
  part: z.string(),
  name: z.string(),
  bin: z.string(),
  lot: z.string().nullable(),
  units: z.number(),
});
const PICKS = `
  select p.number as part, p.name, b.code as bin, m.lot, -sum(m.units)::int as units from stock_movement m join part p on p.id = m.part_id
    join bin b on b.id = m.bin_id where m.job_id = ? and m.kind in ('pick', 'return')
  group by p.number, p.name, b.code, m.lot having sum(m.units) < 0 order by p.number`;
const OverSql = z.object({
  model_id: z.string(),
  began: z.number().nullable(),
  jobId: z.string(),
  unit: z.string(),
  model: z.string(),
  depot: z.string(),
  jobState: z.string(),
  day: z.string(),
});
const OVER = `
  select j.id as "jobId", v.unit, m.name as model, v.model_id, ${BEGAN_US} as began, d.name as depot, j.state as "jobState", coalesce(j.closed_on, j.day, j.created_on)::text as day
  from job j join vehicle v on v.id = j.vehicle_id join model m on m.id = v.model_id join depot d on d.id = j.depot_id where j.id = ?`;

async function kitsOf(em: EntityManager, standing: Standing, jobId?: string): Promise<JobKit[]> {
  if (standing.catalogue.parts.length === 0) return [];
  const notices = await rowsOf(
    em,
    NoticeSql,
    `select job_id, text, to_char(at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') as at from kit_notice where at > now() - interval '14 days' order by at desc`,
  );
  return standing.jobs
    .filter(({ id }) => jobId === undefined || id === jobId)
    .map((job) => kitDto(job, standing, notices))
    .sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : a.unit < b.unit ? -1 : 1));
}

function kitDto(job: OpenJob, { states, catalogue }: Standing, notices: readonly z.output<typeof NoticeSql>[]): JobKit {
  const state = states.get(job.id);
  const picked = pickedOf(job);
  const nameOf = (id: string) => catalogue.byId.get(id);
  const left = [...(state?.needs ?? [])];
  const needs = job.kit.needs.map((need, i): JobKit['needs'][number] => {
    const at = left.findIndex(({ kind, axle, side }) => kind === need.kind && axle === need.axle && side === need.side);
    const own = at < 0 ? undefined : left.splice(at, 1)[0];
    return {
      kind: need.kind,
      axle: need.axle ?? null,
      side: need.side,
      pieces: need.pieces,
      amount: need.amount ?? null,
      options: need.options.map(({ part, units }) => ({
        part: nameOf(part)?.number ?? '',
        name: nameOf(part)?.name ?? '',
        units,
      })),
      picked: picked[i] ?? 0,
      now: own
        ? nowDto(own.now, (id) => nameOf(id)?.number ?? '')
        : { state: 'there', part: '', units: 0, instead: false },
    };
  });
  return {
    jobId: job.id,
    unit: job.unit,
    model: job.model,
    depot: job.depot,
    jobState: job.state,
    day: job.day,
    booked: job.booked,
    state: state?.state ?? 'complete',
    until: state?.until ?? null,
    needs,
    version: job.version,
    faults: job.kit.faults.map(faultInWords),
    notices: notices.filter(({ job_id }) => job_id === job.id).map(({ text, at }) => ({ text, at })),
    picks: [],
  };
}

function nowDto(now: NeedState, numberOf: (id: string) => string): JobKit['needs'][number]['now'] {
  switch (now.state) {
    case 'there':
      return { state: 'there', part: numberOf(now.option.part), units: now.option.units, instead: now.instead };
    case 'comes':
      return {
        state: 'comes',
        part: numberOf(now.option.part),
        units: now.option.units,
        day: now.day,
        inTime: now.inTime,
      };
    case 'short':
      return now;
  }
}

export function faultInWords({ code, kind, axle, side }: KitFault): string {
  const where = `${axle === undefined ? '' : `, axle ${axle}`}${side === 'both' ? '' : `, ${side}`}`;
  switch (code) {
    case 'no part fits':
      return `No part of the catalogue fits: ${kind}${where}.`;
    case 'only one side':
      return `The catalogue has one side’s only; the other is missing: ${kind}${where}.`;
    case 'pads short':
      return `An axle takes four pads${where}.`;
    case 'one rotor':
      return `An axle takes both rotors${where}.`;
    case 'washers':
      return `A hose joint takes two washers${where}.`;
    case 'sensor on the other side':
      return `This axle’s sensor sits on the other side${where}.`;
  }
}

/** Short within that many days is the parts keeper's matter of today. */
const SOON_DAYS = 10;
const PICK_DAYS = 2;
const EXPIRING_DAYS = 30;

export async function partsDay(em: EntityManager, today: string, depot: string | undefined): Promise<PartsDay> {
  const standing = await standingOf(em, today);
  const kits = (await kitsOf(em, standing)).filter((kit) => depot === undefined || kit.depot === depot);
  const within = (days: number) => dateOfDay(dayNumber(today) + days);
  const stock = await listStock(em, depot);
  const orders = await listOrders(em, { depot, state: 'open' }, today, { doubted: false });
  const unpicked = ({ needs }: JobKit) =>
    needs.some(({ picked, now, options }) => picked === 0 && now.state === 'there' && options.length > 0);
  return {
    today,
    toPick: kits.filter(
      (kit) => (kit.booked || kit.jobState === 'in work') && kit.day <= within(PICK_DAYS) && unpicked(kit),
    ),
    short: kits.filter((kit) => kit.state === 'short' && kit.day <= within(SOON_DAYS)),
    toReceive: orders
      .filter(({ state }) => state === 'approved' || state === 'sent' || state === 'acknowledged')
      .map(({ id, number, supplier, depot: at, lines }) => {
        const open = lines.filter(({ ended, units, received }) => ended === null && received < units);
        const days = open.flatMap(({ promisedOn }) => promisedOn ?? []).sort();
        return {
          orderId: id,
          number,
          supplier,
          depot: at,
          units: open.reduce((sum, { units, received }) => sum + units - received, 0),
          day: days[0] ?? null,
        };
      })
      .sort((a, b) => ((a.day ?? '9') < (b.day ?? '9') ? -1 : 1)),
    expiring: stock.filter(
      ({ expiresOn, units }) => expiresOn !== null && units > 0 && expiresOn <= within(EXPIRING_DAYS),
    ),
    toCount: stock.filter(({ count }) => count !== null),
    proposals: orders
      .filter(({ state }) => state === 'proposed')
      .map(({ id, supplier, depot: at, lines, totalMinor, currency }) => ({
        orderId: id,
        supplier,
        depot: at,
        lines: lines.length,
        totalMinor,
        currency,
        latest: lines.flatMap(({ latest }) => latest ?? []).sort()[0] ?? null,
      })),
    transfers: (await transfersNow(em)).filter(({ from, to }) => depot === undefined || from === depot || to === depot),
  };
}

const OutSql = z.object({ part: z.string(), depot: z.string(), day: z.string() });
/** Parts of which stock and orders don't last as long as an order takes. */
const RUNS_OUT = `
  select p.number as part, d.name as depot, (x.computed_on + (x.lead->>'sufficesUntil')::int)::text as day
  from part_plan x join part p on p.id = x.part_id join depot d on d.id = x.depot_id
  where (x.lead->>'sufficesUntil')::int < (x.lead->>'days')::int order by p.number`;

/** Weeks, by their Monday, in which kits of open jobs will be short, or parts run out before an order could come. */
export async function kitWeeks(em: EntityManager, today: string): Promise<KitWeeks[]> {
  const weeks = new Map<string, KitWeeks>();
  const at = (depot: string, day: string): KitWeeks => {
    const week = mondayOf(day);
    const own = weeks.get(`${depot} ${week}`) ?? { depot, week, short: 0, units: [], parts: [] };
    weeks.set(`${depot} ${week}`, own);
    return own;
  };
  for (const { state, day, depot, unit } of await jobKits(em, today)) {
    if (state !== 'short') continue;
    const own = at(depot, day);
    own.short += 1;
    own.units.push(unit);
  }
  for (const { part, depot, day } of await rowsOf(em, OutSql, RUNS_OUT)) at(depot, day).parts.push(part);
  return [...weeks.values()].sort((a, b) => (a.week < b.week ? -1 : 1));
}

/** Day 0 of day numbers, 1 January 1970, was a Thursday. */
function mondayOf(day: string): string {
  const number = dayNumber(day);
  return dateOfDay(number - ((((number + 3) % 7) + 7) % 7));
}
