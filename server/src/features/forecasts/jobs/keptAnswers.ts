import { createHash } from 'node:crypto';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { inTurns } from '../../../platform/inTurns.ts';
import { dutyOf, type DutyRow } from '../../register/index.ts';
import type { InputContext } from '../input.ts';
import type { VehicleRecord } from '../record.ts';
import { MODEL_VERSION } from './saveForecasts.ts';

/** A question put to vehicles one by one, whose answers hang on each one's record and on what is known of the fleet. */
interface Question<T, R> {
  /** Names the answers; a vehicle has one of each. */
  kind: string;
  items: readonly T[];
  recordOf: (item: T) => VehicleRecord;
  context: InputContext;
  today: string;
  /** Whether it hangs on how appraisers drifted. */
  drifts: boolean;
  /** What else the answers hang on. */
  besides?: string;
  ask: (items: T[]) => Promise<R[]>;
}

const KeySql = z.object({ vehicle_id: z.string(), key: z.string() });
const AnswerSql = z.object({ vehicle_id: z.string(), answer: z.unknown() });
const SAVE_CHUNK = 200;

/**
 * Answers in the order of the items: those of vehicles of which nothing changed since they were last asked are read, the
 * others are asked anew and kept. What was kept under another version of the model counts for nothing.
 */
export async function askedOrKept<T, R>(em: EntityManager, question: Question<T, R>): Promise<R[]> {
  const { kind, items, recordOf, ask } = question;
  const keyOf = keysOf(question);
  const known = new Map(
    (await rowsOf(em, KeySql, 'select vehicle_id, key from kept_answer where kind = ?', [kind])).map((row) => [
      row.vehicle_id,
      row.key,
    ]),
  );
  const keys: string[] = [];
  await inTurns(items, (item) => void keys.push(keyOf(recordOf(item))));
  const stale = items.flatMap((item, k) => (known.get(recordOf(item).id) === keys[k] ? [] : [k]));
  const asked = await ask(stale.map((k) => items[k] as T));
  const answers = new Map<string, R>();
  if (stale.length < items.length) {
    const fresh = new Set(stale.map((k) => recordOf(items[k] as T).id));
    for (const row of await rowsOf(em, AnswerSql, 'select vehicle_id, answer from kept_answer where kind = ?', [kind]))
      // What this code wrote itself, under the same version of the model.
      if (!fresh.has(row.vehicle_id)) answers.set(row.vehicle_id, row.answer as R);
  }
  const rows = stale.map((k, at) => {
    const { id } = recordOf(items[k] as T);
    answers.set(id, asked[at] as R);
    return { vehicle_id: id, key: keys[k], answer: asked[at] };
  });
  for (let i = 0; i < rows.length; i += SAVE_CHUNK)
    await em.execute(
      `insert into kept_answer (vehicle_id, kind, key, answer)
       select vehicle_id, ?, key, answer from json_to_recordset(?::json) as t(vehicle_id uuid, key text, answer json) order by vehicle_id
       on conflict (vehicle_id, kind) do update set key = excluded.key, answer = excluded.answer`,
      [kind, JSON.stringify(rows.slice(i, i + SAVE_CHUNK))],
    );
  return items.map((item) => answers.get(recordOf(item).id) as R);
}

const hash = (text: string) => createHash('sha256').update(text).digest('base64');

/** What the answer of a vehicle hangs on, as one short word. */
function keysOf<T, R>({ context, today, drifts, besides = '' }: Question<T, R>): (record: VehicleRecord) => string {
  const fleet = JSON.stringify([MODEL_VERSION, context.rules, context.marginShare, besides]);
  const classes = new Map<string, string>();
  const drift = drifts ? driftsOf(context.drift) : new Map<string, string>();
  return (record) => {
    const { model, axles } = record;
    let ofClass = classes.get(model.class);
    if (ofClass === undefined)
      classes.set(
        model.class,
        (ofClass = JSON.stringify([context.processOf(model.class), context.wearProcessOf(model.class)])),
      );
    const appraisers = [...new Set(record.readings.map((one) => `${one.technician_id}/${one.gauge_id}`))].sort();
    return hash(
      JSON.stringify([
        fleet,
        ofClass,
        recordWord(record),
        axles.map(({ axle }) => context.priors(model.id, axle) ?? null),
        appraisers.map((key) => [key, context.appraiserOf(key), drift.get(key)]),
        // Something dated ahead comes to count on its day; everything else is the same on any later day.
        datedAhead(record, today) ? today : '',
      ]),
    );
  };
}

/** Drifts by appraiser, as text. */
function driftsOf(drift: ReadonlyMap<string, number>): Map<string, string> {
  const own = new Map<string, string>();
  for (const [key, mm] of drift) {
    const appraiser = key.slice(0, key.lastIndexOf('@'));
    own.set(appraiser, `${own.get(appraiser) ?? ''} ${key.slice(appraiser.length)}=${mm}`);
  }
  return own;
}

const words = new WeakMap<object, string>();

/** A text made of something once, however often it is asked for. */
function once<T extends object>(of: T, text: (of: T) => string): string {
  let known = words.get(of);
  if (known === undefined) words.set(of, (known = text(of)));
  return known;
}

/** Everything on record of a vehicle that a computation may rest on, as one short word. */
function recordWord(record: VehicleRecord): string {
  return once(record, ({ model, axles, dutyPeriods, reference, ...rest }) => {
    const { readings, services, odometers, rotors, remedies, measured } = rest;
    return hash(
      JSON.stringify([
        [model.id, model.class, model.tareKg, model.gvwrKg],
        once(axles, (all) => JSON.stringify(all.map((axle) => ({ ...axle })))),
        dutyPeriods.map(({ period, duty }) => [period.fromDate, period.toDate, dutyWord(duty)]),
        reference && dutyWord(reference),
        [readings, services, odometers, rotors, remedies, measured],
      ]),
    );
  });
}

const dutyWord = (duty: DutyRow) => once(duty, (own) => JSON.stringify([dutyOf(own), own.milesPerDay]));

function datedAhead({ readings, services, odometers, remedies, measured, dutyPeriods }: VehicleRecord, today: string) {
  return (
    readings.some((one) => one.measured_on > today) ||
    services.some((one) => one.fitted_on > today) ||
    odometers.some((one) => one.read_on > today) ||
    remedies.some((one) => one.found_on > today) ||
    measured.some((one) => one.to_date > today) ||
    dutyPeriods.some(({ period }) => period.fromDate > today)
  );
}
