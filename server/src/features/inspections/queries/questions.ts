import { Pad, Side, Suspicion } from '@mile-mark/contract';
import { Question, SettledQuestion } from '@mile-mark/contract/inspections';
import { metresToMiles } from '@mile-mark/core';
import { z } from 'zod';
import { type Actor, mustBeAllowed } from '../../../platform/auth/policy.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';

const QuestionSql = z.object({
  id: z.string(),
  unit: z.string(),
  depot: z.string(),
  date: z.string(),
  odometer_m: z.number(),
  technician_id: z.string(),
  technician: z.string(),
  gauge: z.string(),
  answer: Question.shape.answer,
  typed: z.string(),
});
type QuestionSql = z.output<typeof QuestionSql>;

const ReadingQuestion = QuestionSql.extend({
  axle: z.number(),
  side: Side,
  pad: Pad,
  thickness_um: z.number(),
  suspicion: Suspicion,
  past: z.boolean(),
});
const OdometerQuestion = QuestionSql.extend({ usual: z.number(), expected_m: z.number() });

const READINGS = `
  select r.id, v.unit, d.name as depot, r.measured_on::text as date, r.odometer_m, r.technician_id, p.name as technician,
    g.name as gauge, r.answer, r.typed, r.axle, r.side, r.pad, r.thickness_um, q.suspicion,
    exists (select 1 from service s where s.vehicle_id = r.vehicle_id and s.axle = r.axle and s.fitted <> 'rotors'
      and s.fitted_on >= r.measured_on) as past
  from reading_doubt q join reading r on r.id = q.reading_id join inspection i on i.id = r.inspection_id
    join vehicle_in_fleet v on v.id = r.vehicle_id join depot d on d.id = v.depot_id join person p on p.id = r.technician_id
    join gauge g on g.id = i.gauge_id
  where r.thickness_um is not null and not exists (select 1 from reading later where later.supersedes_id = r.id)
    and not exists (select 1 from live_question_answer a where a.reading_id = r.id)`;
const ODOMETERS = `
  select i.id, v.unit, d.name as depot, i.measured_on::text as date, i.odometer_m, i.technician_id, p.name as technician,
    g.name as gauge, i.odometer_answer as answer, i.odometer_typed as typed, i.usual_miles_per_day as usual,
    i.expected_odometer_m as expected_m
  from live_inspection i join vehicle_in_fleet v on v.id = i.vehicle_id join depot d on d.id = v.depot_id
    join person p on p.id = i.technician_id join gauge g on g.id = i.gauge_id
  where i.expected_odometer_m is not null
    and not exists (select 1 from live_question_answer a where a.inspection_id = i.id)`;

/** What waits for the coordinator's word, newest first, of pads replaced since last; a technician sees their own. */
export async function listQuestions(em: EntityManager, actor: Actor): Promise<Question[]> {
  mustBeAllowed(actor, 'measure');
  const readings = await rowsOf(em, ReadingQuestion, READINGS);
  const odometers = await rowsOf(em, OdometerQuestion, ODOMETERS);
  const base = ({ id, unit, depot, date, odometer_m, technician, gauge, answer, typed }: QuestionSql) => ({
    id,
    unit,
    depot,
    date,
    odometerMi: Math.round(metresToMiles(odometer_m)),
    technician,
    gauge,
    answer,
    typed,
  });
  const seen = (row: QuestionSql) => actor.role === 'coordinator' || row.technician_id === actor.id;
  return [
    ...odometers.filter(seen).map((row): Question => ({
      ...base(row),
      about: 'odometer',
      place: null,
      mm: null,
      suspicion: null,
      past: false,
      pace: {
        usualPerDay: row.usual,
        expectedMi: Math.round(metresToMiles(row.expected_m)),
      },
    })),
    ...readings.filter(seen).map((row): Question => ({
      ...base(row),
      about: 'reading',
      place: { axle: row.axle, side: row.side, pad: row.pad },
      mm: row.thickness_um / 1000,
      suspicion: row.suspicion,
      past: row.past,
      pace: null,
    })),
  ].sort((a, b) => Number(a.past) - Number(b.past) || b.date.localeCompare(a.date) || a.unit.localeCompare(b.unit));
}

const SettledSql = SettledQuestion.omit({ place: true }).extend({
  axle: z.number().nullable(),
  side: Side.nullable(),
  pad: Pad.nullable(),
});
const SETTLED = `
  select a.id as "answerId", v.unit, r.axle, r.side, r.pad, coalesce(r.typed, i.odometer_typed) as typed, a.answer, a.note, p.name as by,
    a.at::text as at, not (a.inspection_id is not null and a.answer = 'correct') as undoable
  from live_question_answer a left join reading r on r.id = a.reading_id left join inspection i on i.id = a.inspection_id
    join vehicle v on v.id = coalesce(r.vehicle_id, i.vehicle_id) join person p on p.id = a.person_id
  where a.at > now() - interval '14 days' order by a.at desc limit 50`;

/** What was settled in the last fortnight, newest first. */
export async function listSettled(em: EntityManager, actor: Actor): Promise<SettledQuestion[]> {
  mustBeAllowed(actor, 'decide');
  const rows = await rowsOf(em, SettledSql, SETTLED);
  return rows.map(({ axle, side, pad, ...row }) => ({
    ...row,
    place: axle !== null && side !== null && pad !== null ? { axle, side, pad } : null,
  }));
}

/** How many questions are open. @param depot of vehicles of this depot alone */
export async function countOpenQuestions(em: EntityManager, depot?: string): Promise<number> {
  const own = ({ depot: where }: QuestionSql) => depot === undefined || where === depot;
  const readings = await rowsOf(em, ReadingQuestion, READINGS);
  const odometers = await rowsOf(em, OdometerQuestion, ODOMETERS);
  return readings.filter(own).length + odometers.filter(own).length;
}
