import { VehicleDetail } from '@mile-mark/contract/forecasts';
import { Reading } from '@mile-mark/contract/inspections';
import { type CarriedReading, metresToMiles } from '@mile-mark/core';
import { z } from 'zod';

const ServiceListRow = z.object({
  id: z.string(),
  axle: z.int(),
  date: z.string(),
  odometer_m: z.int(),
  fitted: z.string(),
  recorded_by: z.string(),
});

const SERVICES = `
  select s.id, s.axle, s.fitted_on::text as date, s.odometer_m, s.fitted, p.name as recorded_by
  from service s join person p on p.id = s.recorded_by where s.vehicle_id = ? order by s.fitted_on desc, s.axle`;

function serviceOf({ odometer_m, recorded_by, ...row }: z.output<typeof ServiceListRow>) {
  return { ...row, odometerMi: Math.round(metresToMiles(odometer_m)), recordedBy: recorded_by };
}

export const ALL_READINGS = `
  select r.id, v.unit, r.inspection_id, r.measured_on::text as date, r.odometer_m, r.axle, r.side, r.pad, r.thickness_um, r.typed,
    t.name as technician, g.name as gauge, e.name as entered_by, r.entered_at::text, r.supersedes_id, later.id as superseded_by,
    r.reason, r.answer, case when exists (select 1 from live_question_answer o where o.inspection_id = i.id) then null
      else i.expected_odometer_m end as expected_m, (select jsonb_build_object('answer', q.answer, 'by', s.name, 'at', q.at, 'note', q.note)
      from live_question_answer q join person s on s.id = q.person_id where q.reading_id = r.id) as settled
  from reading r join vehicle v on v.id = r.vehicle_id join inspection i on i.id = r.inspection_id join person t on t.id = r.technician_id
    join person e on e.id = r.entered_by join gauge g on g.id = i.gauge_id
    left join reading later on later.supersedes_id = r.id`;

/** A row of `ALL_READINGS`. */
export const ReadingListRow = Reading.pick({ id: true, date: true, axle: true, side: true, pad: true, typed: true })
  .extend(Reading.pick({ technician: true, gauge: true, reason: true, answer: true, settled: true }).shape)
  .extend({
    unit: z.string(),
    inspection_id: z.string(),
    odometer_m: z.int(),
    thickness_um: z.int().nullable(),
    entered_by: z.string(),
    entered_at: z.string(),
    supersedes_id: z.string().nullable(),
    superseded_by: z.string().nullable(),
    /** Where the odometer was expected, while it is doubted and not settled. */
    expected_m: z.int().nullable(),
  });

function carriedView(one: CarriedReading | undefined): Reading['carried'] {
  if (!one) return null;
  const { biasMm, wearMm, carriedMm, sdMm, regular } = one;
  return { biasMm, wearMm, carriedMm, sdMm, regular };
}

/** What is thought of a reading, as the forecast kept it. */
export const JudgedReading = z.object({
  id: z.string(),
  expectedMm: Reading.shape.expectedMm.optional(),
  suspicion: z.custom<Reading['suspicion']>((value) => typeof value === 'object').optional(),
});
export type JudgedReading = z.output<typeof JudgedReading>;

const RotorSeen = VehicleDetail.shape.rotors.element.omit({ odometerMi: true }).extend({ metres: z.number() });

/** What inspections found besides thicknesses, newest first. */
const besides = <T extends z.ZodType>(row: T, table: string, columns: string) => ({
  row,
  sql: `select x.id, i.measured_on::text as date, x.axle, x.side, p.name as technician, ${columns}
    from ${table} x join inspection i on i.id = x.inspection_id join person p on p.id = i.technician_id
    where x.vehicle_id = ? order by i.measured_on desc, x.axle, x.side`,
});

const SEEN = {
  services: { row: ServiceListRow, sql: SERVICES },
  readings: {
    row: ReadingListRow,
    sql: `${ALL_READINGS} where r.vehicle_id = ? order by r.measured_on desc, r.axle, r.side, r.pad desc, r.entered_at`,
  },
  rotors: besides(
    RotorSeen,
    'live_rotor_measurement',
    `i.odometer_m as metres, x.thickness_um as "thicknessUm", x.runout_um as "runoutUm", x.hub_runout_um as "hubRunoutUm", x.studs`,
  ),
  findings: besides(
    VehicleDetail.shape.findings.element,
    'live_finding',
    'x.item, x.state, x.places, x.degree, x.note',
  ),
  photos: besides(VehicleDetail.shape.photos.element, 'live_photo', 'x.taken_at'),
  unseen: besides(VehicleDetail.shape.unseen.element, 'live_unseen_pad', 'x.pad'),
};

type Seen = Pick<VehicleDetail, 'services' | 'readings' | 'rotors' | 'findings' | 'photos' | 'unseen'>;

/** Everything that was done to a vehicle and seen of it, as sets to ask for with others. */
export function seenOf(vehicleId: string) {
  const params = [vehicleId];
  return {
    services: { ...SEEN.services, params },
    readings: { ...SEEN.readings, params },
    rotors: { ...SEEN.rotors, params },
    findings: { ...SEEN.findings, params },
    photos: { ...SEEN.photos, params },
    unseen: { ...SEEN.unseen, params },
  };
}
type SeenRows = { [Name in keyof typeof SEEN]: z.output<(typeof SEEN)[Name]['row']>[] };

/** What was done to a vehicle and seen of it; each reading with what is thought of it now. */
export function seenTold(
  { services, readings, rotors, findings, photos, unseen }: SeenRows,
  judgements: readonly JudgedReading[],
  carried: Map<string, CarriedReading>,
): Seen {
  const judged = new Map(judgements.map((one) => [one.id, one]));
  return {
    services: services.map(serviceOf),
    readings: readings.map((row) => readingOf(row, judged.get(row.id), carried.get(row.id))),
    rotors: rotors.map(({ metres, ...rotor }) => ({ ...rotor, odometerMi: Math.round(metresToMiles(metres)) })),
    findings,
    photos,
    unseen,
  };
}

function readingOf(
  row: z.output<typeof ReadingListRow>,
  judgement: JudgedReading | undefined,
  carried: CarriedReading | undefined,
): Reading {
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
    weight: carried?.weight ?? null,
    carried: carriedView(carried),
    odometerExpectedMi: row.expected_m === null ? null : Math.round(metresToMiles(row.expected_m)),
    settled: row.settled,
  };
}
