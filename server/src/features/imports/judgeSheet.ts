import type { Understanding } from '@mile-mark/contract/imports';
import { paceInWords, suspicionsInWords } from '@mile-mark/contract/words';
import {
  consistentOdometers,
  doubtOdometer,
  metresToMiles,
  type OdometerEntry,
  parseThickness,
  type ReadingInput,
  type Suspicion,
  thicknessIn,
} from '@mile-mark/core';
import { z } from 'zod';
import { groupBy } from '../../platform/groupBy.ts';
import { inTurns, type Watch } from '../../platform/inTurns.ts';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { uuidArray } from '../../platform/db/uuidArray.ts';
import { appraiserKey } from '../gauges/index.ts';
import { paceAmong, suspicionsAmongRecord, usualPaces } from '../inspections/index.ts';
import { doubtInWords, entryNow, instrumentsOf, odometersOfMany, type OnInstrumentNow } from '../register/index.ts';
import type { Draft, Reason, WithPlate } from './assess.ts';
import type { ReadingRecord } from './readingRecord.ts';
import { placeInWords } from './understand/places.ts';

/**
 * Holds each odometer against the others of its vehicle, in the sheet and on record: those outside the
 * heaviest consistent set are questioned and can't be taken as typed.
 */
export async function judgeOdometers(
  em: EntityManager,
  drafts: Draft<ReadingRecord>[],
  understanding: Understanding,
  watch: Watch = {},
): Promise<void> {
  const byVehicle = groupBy(
    drafts.filter(({ records }) => records.length > 0),
    ({ records }) => records[0]?.vehicleId ?? '',
  );
  const column = understanding.columns.findIndex(({ field }) => field === 'odometer');
  const ids = [...byVehicle.keys()];
  const onRecord = await odometersOfMany(em, ids);
  const paces = await usualPaces(em, ids);
  const now = await instrumentsOf(em, ids);
  const judge = ([vehicleId, own]: [string, Draft<ReadingRecord>[]]) => {
    const known = (onRecord.get(vehicleId) ?? []).map((entry) => ({ ...entry, weight: 1000 }));
    const counted = new Map<string, OdometerEntry & { weight: number }>();
    for (const { records } of own) {
      for (const { date, odometerM } of records) {
        const entry = entryNow(now, vehicleId, { date, metres: odometerM });
        const key = keyOf(entry);
        counted.set(key, { ...entry, weight: (counted.get(key)?.weight ?? 0) + 1 });
      }
    }
    const chain = consistentOdometers([...known, ...counted.values()]);
    const usual = paces.get(vehicleId);
    const consistent = new Set(chain.map(keyOf));
    for (const draft of own) {
      const [first] = draft.records;
      if (!first) continue;
      const entry = entryNow(now, vehicleId, { date: first.date, metres: first.odometerM });
      if (consistent.has(keyOf(entry))) {
        const pace = paceAmong(chain, entry, usual);
        if (pace)
          draft.reasons.push({
            column,
            outcome: 'questioned',
            message: `${paceInWords(pace, understanding.distanceUnit)} It goes in as typed, and is asked about until it is settled.`,
          });
        continue;
      }
      const doubt = doubtOdometer(entry, chain, understanding.distanceUnit);
      if (!doubt) continue;
      const mends = doubt.kind === 'km_as_miles' || doubt.kind === 'miles_as_km';
      draft.reasons.push({
        column,
        outcome: 'questioned',
        message: doubtInWords(entry, doubt),
        suggestion: mends ? inUnit(doubt.insteadMetres, understanding) : undefined,
        holds: true,
        bars: true,
      });
    }
  };
  await inTurns(byVehicle, judge, watch);
}

const keyOf = ({ date, metres }: OdometerEntry) => `${date}/${metres}`;

function inUnit(metres: number, { distanceUnit }: Understanding): string {
  return String(Math.round(distanceUnit === 'mi' ? metresToMiles(metres) : metres / 1000));
}

const identityOf = (record: ReadingRecord) =>
  [
    record.technicianId,
    record.vehicleId,
    record.axle,
    record.side,
    record.pad,
    record.date,
    record.odometerM,
    Math.round(record.mm * 1000),
  ].join('/');

/** Questions readings that stand twice in one file; the first of them goes in, the second adds nothing. */
export function markTwins(drafts: Draft<ReadingRecord>[]): void {
  const seen = new Map<string, number>();
  for (const draft of drafts) {
    const known = draft.records.map((record) => ({ record, identity: identityOf(record) }));
    const twins = known.filter(({ identity }) => seen.has(identity)).map(({ record }) => record);
    for (const { identity } of known) if (!seen.has(identity)) seen.set(identity, draft.line);
    if (twins.length === 0 || draft.reasons.some(({ bars }) => bars)) continue;
    const line = seen.get(identityOf(twins[0] as ReadingRecord));
    draft.records = draft.records.filter((record) => !twins.includes(record));
    draft.reasons.push({
      column: null,
      outcome: 'questioned',
      message: `${draft.records.length === 0 ? 'The same as' : 'Partly the same as'} line ${line}: was it entered twice? It counts once.`,
      holds: draft.records.length === 0,
    });
  }
}

/** Leaves out readings that are on record already; those of a look that was taken back are not. */
export async function markAlready(em: EntityManager, drafts: Draft<ReadingRecord>[]): Promise<void> {
  const vehicleIds = [...new Set(drafts.flatMap(({ records }) => records.map(({ vehicleId }) => vehicleId)))];
  const known = await rowsOf(
    em,
    z.object({ identity: z.string() }),
    `select concat_ws('/', technician_id, vehicle_id, axle, side, pad, measured_on, odometer_m, thickness_um) as identity
     from reading r where vehicle_id = any(?::uuid[]) and supersedes_id is null
       and not exists (select 1 from inspection_withdrawal w where w.inspection_id = r.inspection_id)`,
    [uuidArray(vehicleIds)],
  );
  const identities = new Set(known.map(({ identity }) => identity));
  for (const draft of drafts) {
    const fresh = draft.records.filter((record) => !identities.has(identityOf(record)));
    draft.already = draft.records.length - fresh.length;
    draft.records = fresh;
  }
}

/** Judges the values of what is left, each vehicle's readings in order of date among those on record. */
export async function judgeValues(
  em: EntityManager,
  drafts: Draft<ReadingRecord>[],
  today: string,
  begin: (vehicles: number) => Parameters<typeof suspicionsAmongRecord>[3],
): Promise<void> {
  const items = drafts.flatMap((draft) =>
    draft.reasons.some(({ bars }) => bars) ? [] : draft.records.map((record) => ({ draft, record })),
  );
  const byVehicle = groupBy(items, ({ record }) => record.vehicleId);
  const now = await instrumentsOf(em, [...byVehicle.keys()]);
  const added = new Map(
    [...byVehicle].map(([vehicleId, own]) => [vehicleId, own.map(({ record }) => readingOf(record, now))]),
  );
  const suspicions = await suspicionsAmongRecord(em, added, today, begin(added.size));
  const doubted = items.flatMap(({ draft, record }) => {
    const suspicion = suspicions.get(record.key);
    return suspicion ? [{ draft, record, suspicion }] : [];
  });
  for (const [draft, own] of groupBy(doubted, (one) => one.draft)) {
    for (const alike of groupBy(own, ({ suspicion, record }) => `${suspicion.kind} ${record.unit}`).values())
      draft.reasons.push(questionOf(alike));
    draft.plates = own.flatMap(withoutPlate);
  }
}

interface Doubted {
  record: ReadingRecord;
  suspicion: Suspicion;
}

/** The same doubt of several pads of a row is one question. */
function questionOf(alike: readonly Doubted[]): Reason {
  const [first, ...others] = alike as [Doubted, ...Doubted[]];
  const { kind } = first.suspicion;
  const it = others.length > 0 ? 'They go in as typed, and' : 'It goes in as typed, and';
  const weighs = others.length > 0 ? 'weigh little until they are settled' : 'weighs little until it is settled';
  const counts = others.length > 0 ? 'count' : 'counts';
  // The axle is named once where it is the same.
  const doubts = alike.map(({ record, suspicion }, index) => ({
    place: `${alike[index - 1]?.record.axle === record.axle ? '' : `axle ${record.axle} `}${record.side} ${record.pad}`,
    suspicion,
  }));
  return {
    column: first.record.column,
    alsoColumns: others.map(({ record }) => record.column),
    outcome: 'questioned',
    message: `${suspicionsInWords(doubts, first.record.unit)} ${it} ${kind === 'thinner_than_expected' ? counts : weighs}.`,
  };
}

/** What the cell of a figure that seems to include the backing plate would hold without it, typed alike. */
function withoutPlate({ record, suspicion }: Doubted): WithPlate[] {
  if (suspicion.kind !== 'plate' || suspicion.insteadMm === undefined) return [];
  const cell = typedAs(record, suspicion.insteadMm);
  const wheel = placeInWords({ ...record, pad: null });
  return cell === undefined ? [] : [{ column: record.column, wheel, cell }];
}

/** How far the figure as it would be typed may be from the thickness meant: half a step of the coarsest gauge, mm. */
const SAME_FIGURE_MM = 0.5;

/** A thickness as the row's own cell is typed; undefined where it would read as another one. */
function typedAs({ typed, unit }: ReadingRecord, mm: number): string | undefined {
  const figure = thicknessIn(mm, unit);
  const suffix = /(?<![a-z"”″])[a-z"”″]+\.?$/i.exec(typed.trimEnd())?.[0] ?? '';
  const decimals = unit === 'mm' ? 1 : unit === 'in' ? 3 : 0;
  const plain = typed.includes('/') ? `${Math.round(thicknessIn(mm, '1/32 in'))}/32` : figure.toFixed(decimals);
  const cell = `${typed.includes(',') ? plain.replace('.', ',') : plain}${suffix === '' ? '' : ` ${suffix.trim()}`}`;
  const again = parseThickness(cell.replace(',', '.'), { unit, mark: '.' });
  return again.ok && Math.abs(again.value.mm - mm) <= SAME_FIGURE_MM ? cell : undefined;
}

function readingOf(record: ReadingRecord, now: OnInstrumentNow): ReadingInput {
  const { technicianId, gaugeId, vehicleId, date, odometerM } = record;
  return {
    id: record.key,
    date,
    miles: metresToMiles(now(vehicleId, date, odometerM)),
    axle: record.axle,
    side: record.side,
    pad: record.pad,
    mm: record.mm,
    unit: record.unit,
    resolutionMm: record.resolutionMm,
    technician: technicianId ?? 'who measured is not said yet',
    ...(technicianId && gaugeId ? { appraiser: appraiserKey(technicianId, gaugeId) } : {}),
  };
}
