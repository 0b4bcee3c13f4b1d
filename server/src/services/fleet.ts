import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import {
  workPerMile,
  DEFAULT_DUTY_SETTINGS,
  metresToMiles,
  rotorTemperature,
  runWithChanges,
  type CarriedReading,
} from '@mile-mark/core';
import type { AxleDetail, MileMark, PadDetail, Reading, VehicleDetail, VehicleRow } from '@mile-mark/contract';
import { dutyOf, dutySpansOf, limitOf, vehicleInputOf, type VehicleRecord } from '../db/mappers.ts';
import type { EntityManager } from '../db/orm.ts';
import { Refusal } from '../errors.ts';
import { normaliseUnit } from './lookups.ts';
import { axleOf, dutyDto } from './register.ts';
import { policyOf, readSettings } from './settings.ts';
import { changesOf } from './changes.ts';
import { loadForecastGround, loadVehicleRecords } from './vehicleRecords.ts';

const VEHICLES = `
  select v.id, v.unit, m.name as model, m.class, d.name as depot,
    (select u.name from duty_period p join duty u on u.id = p.duty_id
      where p.vehicle_id = v.id and p.from_date <= ?::date order by p.from_date desc limit 1) as duty,
    (select coalesce(array_agg(a.axle order by a.axle), '{}') from model_axle a where a.model_id = m.id) as axles,
    greatest((select max(odometer_m) from inspection i where i.vehicle_id = v.id),
      (select max(odometer_m) from odometer o where o.vehicle_id = v.id),
      (select max(odometer_m) from service s where s.vehicle_id = v.id)) as metres
  from vehicle v join model m on m.id = v.model_id join depot d on d.id = v.depot_id`;

type VehicleSqlRow = Omit<VehicleRow, 'odometerMi'> & { metres: number | null };

function vehicleRowOf({ metres, ...row }: VehicleSqlRow): VehicleRow {
  return { ...row, odometerMi: metres === null ? null : Math.round(metresToMiles(metres)) };
}

export async function listVehicles(em: EntityManager, today: string): Promise<VehicleRow[]> {
  const rows = await em.execute<VehicleSqlRow[]>(`${VEHICLES} order by v.unit`, [today]);
  return rows.map(vehicleRowOf);
}

interface RefreshState {
  serial: string;
  pending: number;
  computed_at: string | null;
  risk_target: string | null;
}

async function refreshState(em: EntityManager): Promise<RefreshState> {
  const [state] = await em.execute<RefreshState[]>(`
    select (select last_value from forecast_serial)::text as serial,
      (select count(*)::int from vehicle v left join vehicle_forecast f on f.vehicle_id = v.id
        where f.input_rev is null or f.input_rev < v.input_rev) as pending,
      (select max(computed_at)::text from vehicle_forecast) as computed_at,
      (select value from setting where key = 'riskTarget')::text as risk_target`);
  return state as RefreshState;
}

const MARKS = `
  select v.unit, f.axle, d.name as depot, m.class, m.name as model, a.pad_new_um / 1000.0::float8 as "newMm", f.mark
  from forecast f join vehicle v on v.id = f.vehicle_id join model m on m.id = v.model_id join depot d on d.id = v.depot_id
    join model_axle a on a.model_id = m.id and a.axle = f.axle`;

type MarkSqlRow = Pick<MileMark, 'unit' | 'axle' | 'depot' | 'class' | 'model' | 'newMm'> & {
  mark: Omit<MileMark, 'unit'>;
};

function markOf({ mark, ...row }: MarkSqlRow): MileMark {
  return { ...row, ...mark };
}

const compress = promisify(gzip);

/** A body already serialised, with its tag: sent as it is, or as 304 where the caller has it. */
export interface Prepared {
  prepared: string;
  /** The same, gzip. */
  compressed: Buffer;
  tag: string;
}

/** What an application keeps between calls: the marks as last told. */
export interface MarksCache {
  kept?: { tag: string; body: Promise<Prepared> };
}

/**
 * The mile marks of all axles, nearest first, serialised once for each state of the forecasts: the body is
 * kept with its tag, and a caller who has it is told so.
 */
export async function mileMarks(em: EntityManager, today: string, cache: MarksCache): Promise<Prepared> {
  const state = await refreshState(em);
  const tag = `"marks-${state.serial}-${state.pending}-${today}-${state.risk_target ?? ''}-${state.computed_at ?? ''}"`;
  if (cache.kept?.tag !== tag) {
    // Callers who come meanwhile wait for the same preparation; a failed one is not kept.
    const body = prepareMarks(em, today, tag, state);
    cache.kept = { tag, body };
    body.catch(() => delete cache.kept);
  }
  return cache.kept.body;
}

async function prepareMarks(
  em: EntityManager,
  today: string,
  tag: string,
  { pending, computed_at }: RefreshState,
): Promise<Prepared> {
  const { riskTarget } = await readSettings(em);
  const rows = await em.execute<MarkSqlRow[]>(`${MARKS} order by f.mark->>'markDate', v.unit, f.axle`);
  const body = { today, riskTarget, refresh: { pending, computedAt: computed_at }, items: rows.map(markOf) };
  const prepared = JSON.stringify(body);
  return { tag, prepared, compressed: await compress(prepared) };
}

/** One vehicle with everything its page shows. */
export async function vehicleDetail(em: EntityManager, typedUnit: string, today: string): Promise<VehicleDetail> {
  const [row] = await em.execute<VehicleSqlRow[]>(`${VEHICLES} where v.unit = ?`, [today, normaliseUnit(typedUnit)]);
  if (!row) throw new Refusal('not_found', `There is no vehicle ${normaliseUnit(typedUnit)} on record.`);
  const [record] = await loadVehicleRecords(em, [row.id]);
  if (!record) throw new Refusal('not_found');
  const ground = await loadForecastGround(em);
  const [overall] = await em.execute<{ detail: VehicleForecastDetail; pending: boolean; computed_at: string }[]>(
    `select f.detail, f.input_rev < v.input_rev as pending, f.computed_at::text from vehicle v join vehicle_forecast f on f.vehicle_id = v.id where v.id = ?`,
    [row.id],
  );
  const { details, carried } = await axleDetails(em, record, ground.settings.marginShare, ground.rules);
  return {
    ...vehicleRowOf(row),
    today,
    riskTarget: policyOf(ground.settings, record.model.class).riskTarget,
    currency: ground.settings.costs?.currency ?? null,
    refresh: { pending: overall && !overall.pending ? 0 : 1, computedAt: overall?.computed_at ?? null },
    milesPerDay: overall?.detail.milesPerDay ?? null,
    odometerNowMi: overall ? Math.round(overall.detail.odometerNowMi) : null,
    gvwrKg: record.model.gvwrKg,
    tareKg: record.model.tareKg,
    axleDetails: details,
    dutyPeriods: dutyPeriodsOf(record),
    measuredDuty: measuredOf(record),
    referenceDuty: record.reference?.name ?? null,
    changes: await changesOf(em, row.id),
    suspected: overall?.detail.suspected ?? null,
    explained: overall?.detail.explained ?? null,
    services: await servicesOf(em, row.id),
    readings: await readingsOf(em, record, ground, today, carried),
    ...(await besidesOf(em, row.id)),
  };
}

interface VehicleForecastDetail {
  explained?: VehicleDetail['explained'];
  suspected?: VehicleDetail['suspected'];
  odometerNowMi: number;
  milesPerDay: { mean: number; sd: number; basis: string };
}

interface PadSql extends Omit<PadDetail, 'pooled'> {
  pooled?: NonNullable<PadDetail['pooled']>;
  carried: CarriedReading[];
}

interface AxlesAndReadings {
  details: AxleDetail[];
  /** Each reading of the present pads on its way to today, by its id. */
  carried: Map<string, CarriedReading>;
}

async function axleDetails(
  em: EntityManager,
  record: VehicleRecord,
  marginShare: number,
  rules: Parameters<typeof limitOf>[2],
): Promise<AxlesAndReadings> {
  const marks = await em.execute<
    (MarkSqlRow & {
      detail: { pads: PadSql[]; fitted?: { date: string; miles: number }; decision: AxleDetail['decision'] };
    })[]
  >(`${MARKS.replace('f.mark', 'f.mark, f.detail')} where v.id = ?`, [record.id]);
  const present = record.dutyPeriods.at(-1);
  const settings = DEFAULT_DUTY_SETTINGS[record.model.class as 'pickup' | 'van' | 'heavy'];
  const carried = new Map<string, CarriedReading>();
  const details = record.axles.map((axle) => {
    const found = marks.find((one) => one.axle === axle.axle);
    const { limitMm, ruling, candidates } = limitOf(record.model, axle, rules, marginShare);
    const work = present ? workPerMile(record.model, dutyOf(present.duty), settings).totalJ * axle.brakeShare : null;
    const pads = found?.detail.pads ?? [];
    for (const pad of pads) for (const one of pad.carried) carried.set(one.id, one);
    const { detail: _detail, ...mark } = found ?? { detail: undefined };
    return {
      ...axleOf(axle),
      limit: { limitMm, ruling, candidates },
      mark: found ? markOf(mark as MarkSqlRow) : null,
      pads: pads.map(({ pooled, carried: _carried, ...pad }) => ({
        ...pad,
        pooled: pooled
          ? { valueMm: pooled.valueMm, sdMm: pooled.sdMm, readings: pooled.readings, technicians: pooled.technicians }
          : null,
      })),
      fitted: found?.detail.fitted
        ? { date: found.detail.fitted.date, miles: Math.round(found.detail.fitted.miles) }
        : null,
      workPerMileKj: work === null ? null : work / 1000,
      decision: found?.detail.decision ?? null,
      temperature: present ? rotorTemperature(record.model, dutyOf(present.duty), settings, axle.brakeShare) : null,
    };
  });
  return { details, carried };
}

function dutyPeriodsOf(record: VehicleRecord): VehicleDetail['dutyPeriods'] {
  const spans = dutySpansOf(record);
  const settings = DEFAULT_DUTY_SETTINGS[record.model.class as 'pickup' | 'van' | 'heavy'];
  return record.dutyPeriods.map(({ period, duty }) => {
    const work = workPerMile(record.model, dutyOf(duty), settings);
    return {
      id: period.id,
      duty: dutyDto(duty),
      from: period.fromDate,
      to: period.toDate ?? null,
      severity: spans.find(({ from, measured }) => from === period.fromDate && !measured)?.severity ?? 1,
      massKg: work.massKg,
      stopsKjPerMile: work.stopsJ / 1000,
      slowdownsKjPerMile: work.slowdownsJ / 1000,
      descentsKjPerMile: work.descentsJ / 1000,
      towingKjPerMile: work.towingJ / 1000,
    };
  });
}

/** What the feed of driven days has measured, as severities by dates. */
function measuredOf(record: VehicleRecord): VehicleDetail['measuredDuty'] {
  return dutySpansOf(record).flatMap(({ from, to, severity, measured }) =>
    measured ? [{ from, to: to ?? null, severity }] : [],
  );
}

async function servicesOf(em: EntityManager, vehicleId: string): Promise<VehicleDetail['services']> {
  const rows = await em.execute<
    { id: string; axle: number; date: string; odometer_m: number; fitted: string; recorded_by: string }[]
  >(
    `select s.id, s.axle, s.fitted_on::text as date, s.odometer_m, s.fitted, p.name as recorded_by
     from service s join person p on p.id = s.recorded_by where s.vehicle_id = ? order by s.fitted_on desc, s.axle`,
    [vehicleId],
  );
  return rows.map(({ odometer_m, recorded_by, ...row }) => ({
    ...row,
    odometerMi: Math.round(metresToMiles(odometer_m)),
    recordedBy: recorded_by,
  }));
}

const ALL_READINGS = `
  select r.id, r.inspection_id, r.measured_on::text as date, r.odometer_m, r.axle, r.side, r.pad, r.thickness_um, r.typed,
    t.name as technician, g.name as gauge, e.name as entered_by, r.entered_at::text, r.supersedes_id, later.id as superseded_by,
    r.reason, r.answer, case when exists (select 1 from question_answer o where o.inspection_id = i.id) then null
      else i.expected_odometer_m end as expected_m, (select jsonb_build_object('answer', q.answer, 'by', s.name, 'at', q.at, 'note', q.note)
      from question_answer q join person s on s.id = q.person_id where q.reading_id = r.id) as settled
  from reading r join inspection i on i.id = r.inspection_id join person t on t.id = r.technician_id
    join person e on e.id = r.entered_by join gauge g on g.id = i.gauge_id
    left join reading later on later.supersedes_id = r.id`;

interface ReadingSql {
  id: string;
  inspection_id: string;
  date: string;
  odometer_m: number;
  axle: number;
  side: Reading['side'];
  pad: Reading['pad'];
  thickness_um: number | null;
  typed: string;
  technician: string;
  gauge: string;
  entered_by: string;
  entered_at: string;
  supersedes_id: string | null;
  superseded_by: string | null;
  reason: string | null;
  answer: Reading['answer'];
  settled: Reading['settled'];
  /** Where the odometer was expected, while it is doubted and not settled. */
  expected_m: number | null;
}

function carriedView(one: CarriedReading | undefined): Reading['carried'] {
  if (!one) return null;
  const { biasMm, wearMm, carriedMm, sdMm, regular } = one;
  return { biasMm, wearMm, carriedMm, sdMm, regular };
}

/** What inspections found besides thicknesses, newest first. */
async function besidesOf(
  em: EntityManager,
  vehicleId: string,
): Promise<Pick<VehicleDetail, 'rotors' | 'findings' | 'photos' | 'unseen'>> {
  const rows = <T>(table: string, columns: string) =>
    em.execute<T[]>(
      `select x.id, i.measured_on::text as date, x.axle, x.side, p.name as technician, ${columns}
       from ${table} x join inspection i on i.id = x.inspection_id join person p on p.id = i.technician_id
       where x.vehicle_id = ? order by i.measured_on desc, x.axle, x.side`,
      [vehicleId],
    );
  const rotors = await rows<Omit<VehicleDetail['rotors'][number], 'odometerMi'> & { metres: number }>(
    'rotor_measurement',
    `i.odometer_m as metres, x.thickness_um as "thicknessUm", x.runout_um as "runoutUm", x.hub_runout_um as "hubRunoutUm", x.studs`,
  );
  return {
    rotors: rotors.map(({ metres, ...rotor }) => ({ ...rotor, odometerMi: Math.round(metresToMiles(metres)) })),
    findings: await rows('finding', 'x.item, x.state'),
    photos: await rows('photo', 'x.taken_at'),
    unseen: await rows('unseen_pad', 'x.pad'),
  };
}

async function readingsOf(
  em: EntityManager,
  record: VehicleRecord,
  ground: Awaited<ReturnType<typeof loadForecastGround>>,
  today: string,
  carried: Map<string, CarriedReading>,
): Promise<Reading[]> {
  const input = vehicleInputOf(record, ground, today);
  const judged = new Map(runWithChanges(input).history.judgements.map((one) => [one.id, one]));
  const rows = await em.execute<ReadingSql[]>(
    `${ALL_READINGS} where r.vehicle_id = ? order by r.measured_on desc, r.axle, r.side, r.pad desc, r.entered_at`,
    [record.id],
  );
  return rows.map((row) => {
    const judgement = judged.get(row.id);
    return {
      id: row.id,
      inspectionId: row.inspection_id,
      date: row.date,
      odometerMi: Math.round(metresToMiles(row.odometer_m)),
      axle: row.axle,
      side: row.side,
      pad: row.pad,
      mm: row.thickness_um === null ? null : row.thickness_um / 1000,
      typed: row.typed,
      technician: row.technician,
      gauge: row.gauge,
      enteredBy: row.entered_by,
      enteredAt: row.entered_at,
      supersedes: row.supersedes_id,
      supersededBy: row.superseded_by,
      reason: row.reason,
      answer: row.answer,
      suspicion: judgement?.suspicion ?? null,
      expectedMm: judgement?.expectedMm ?? null,
      weight: carried.get(row.id)?.weight ?? null,
      carried: carriedView(carried.get(row.id)),
      odometerExpectedMi: row.expected_m === null ? null : Math.round(metresToMiles(row.expected_m)),
      settled: row.settled,
    };
  });
}

/** All readings as rows for a CSV, in order of vehicle and date. */
export async function readingRows(em: EntityManager): Promise<Record<string, string | number>[]> {
  const rows = await em.execute<(ReadingSql & { unit: string })[]>(
    `${ALL_READINGS.replace('select r.id', 'select v.unit, r.id')} join vehicle v on v.id = r.vehicle_id order by v.unit, r.measured_on, r.axle, r.side, r.pad`,
  );
  return rows.map((row) => ({
    id: row.id,
    unit: row.unit,
    date: row.date,
    odometer_mi: Math.round(metresToMiles(row.odometer_m) * 10) / 10,
    axle: row.axle,
    side: row.side,
    pad: row.pad,
    thickness_mm: row.thickness_um === null ? '' : row.thickness_um / 1000,
    typed: row.typed,
    technician: row.technician,
    gauge: row.gauge,
    entered_by: row.entered_by,
    entered_at: row.entered_at,
    supersedes: row.supersedes_id ?? '',
    superseded_by: row.superseded_by ?? '',
    reason: row.reason ?? '',
  }));
}
