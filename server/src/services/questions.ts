import type { z } from 'zod';
import type { Question, QuestionAnswer } from '@mile-mark/contract';
import { metresToMiles, type Suspicion } from '@mile-mark/core';
import { mustBeAllowed, type Actor } from '../auth/policy.ts';
import type { EntityManager } from '../db/orm.ts';
import { Refusal, refuseField } from '../errors.ts';
import { recordDeed } from './audit.ts';
import { bumpInputs } from './lookups.ts';
import { correctOdometer } from './odometers.ts';
import { correctReading } from './readings.ts';

interface QuestionSql {
  id: string;
  unit: string;
  depot: string;
  date: string;
  odometer_m: number;
  technician_id: string;
  technician: string;
  gauge: string;
  answer: Question['answer'];
  typed: string;
  axle: number;
  side: 'left' | 'right';
  pad: 'inner' | 'outer';
  thickness_um: number;
  suspicion: Suspicion;
  usual: number;
  expected_m: number;
  past: boolean;
}

const READINGS = `
  select r.id, v.unit, d.name as depot, r.measured_on::text as date, r.odometer_m, r.technician_id, p.name as technician,
    g.name as gauge, r.answer, r.typed, r.axle, r.side, r.pad, r.thickness_um, q.suspicion,
    exists (select 1 from service s where s.vehicle_id = r.vehicle_id and s.axle = r.axle and s.fitted <> 'rotors'
      and s.fitted_on >= r.measured_on) as past
  from reading_doubt q join reading r on r.id = q.reading_id join inspection i on i.id = r.inspection_id
    join vehicle v on v.id = r.vehicle_id join depot d on d.id = v.depot_id join person p on p.id = r.technician_id
    join gauge g on g.id = i.gauge_id
  where r.thickness_um is not null and not exists (select 1 from reading later where later.supersedes_id = r.id)
    and not exists (select 1 from question_answer a where a.reading_id = r.id)`;
const ODOMETERS = `
  select i.id, v.unit, d.name as depot, i.measured_on::text as date, i.odometer_m, i.technician_id, p.name as technician,
    g.name as gauge, i.odometer_answer as answer, i.odometer_typed as typed, i.usual_miles_per_day as usual,
    i.expected_odometer_m as expected_m
  from inspection i join vehicle v on v.id = i.vehicle_id join depot d on d.id = v.depot_id
    join person p on p.id = i.technician_id join gauge g on g.id = i.gauge_id
  where i.expected_odometer_m is not null and not exists (select 1 from inspection later where later.supersedes_id = i.id)
    and not exists (select 1 from question_answer a where a.inspection_id = i.id)`;

/** What waits for the coordinator's word, newest first, of pads replaced since last; a technician sees their own. */
export async function listQuestions(em: EntityManager, actor: Actor): Promise<Question[]> {
  mustBeAllowed(actor, 'measure');
  const readings = await em.execute<QuestionSql[]>(READINGS);
  const odometers = await em.execute<QuestionSql[]>(ODOMETERS);
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

/**
 * Settles a question: it is so (the figure is believed from now on), corrected, withdrawn, or to be measured again
 * (the figure stays doubted). Kept with who and when; a question is settled once.
 */
export async function answerQuestion(
  em: EntityManager,
  actor: Actor,
  subjectId: string,
  input: z.output<typeof QuestionAnswer>,
): Promise<{ id: string; vehicleId: string }> {
  mustBeAllowed(actor, 'register');
  const [reading] = await em.execute<{ vehicle_id: string }[]>('select vehicle_id from reading where id = ?', [
    subjectId,
  ]);
  const [inspection] = await em.execute<{ vehicle_id: string }[]>('select vehicle_id from inspection where id = ?', [
    subjectId,
  ]);
  const vehicleId = reading?.vehicle_id ?? inspection?.vehicle_id;
  if (!vehicleId) throw new Refusal('not_found', 'There is no such reading or inspection on record.');
  const [earlier] = await em.execute<{ id: string }[]>(
    'select id from question_answer where reading_id = ? or inspection_id = ?',
    [subjectId, subjectId],
  );
  if (earlier?.id === input.id) return { id: input.id, vehicleId };
  if (earlier) throw new Refusal('conflict', 'Somebody settled this question meanwhile; look at the list again.');
  const reason = input.note && input.note.length >= 3 ? input.note : 'settled in the list of questions';
  if (!reading && input.answer !== 'it_is_so' && input.answer !== 'correct')
    throw refuseField('answer', 'An odometer is believed or corrected; its readings are withdrawn one by one.');
  if (input.answer === 'correct' && input.value === undefined)
    throw refuseField('value', 'The value as it should have been is needed.');
  await em.transactional(async (inner) => {
    await inner.execute(
      'insert into question_answer (id, reading_id, inspection_id, answer, note, person_id) values (?, ?, ?, ?, ?, ?)',
      [input.id, reading ? subjectId : null, reading ? null : subjectId, input.answer, input.note ?? null, actor.id],
    );
    if (input.answer === 'correct' || input.answer === 'withdraw') {
      const id = crypto.randomUUID();
      if (reading) {
        const value =
          input.answer === 'withdraw'
            ? {}
            : {
                thickness: input.value,
                thicknessUnit: input.unit === 'mi' || input.unit === 'km' ? undefined : input.unit,
              };
        await correctReading(inner, actor, subjectId, { id, reason, ...value });
      } else {
        await correctOdometer(inner, actor, subjectId, { id, odometer: String(input.value), reason });
      }
    } else {
      await bumpInputs(inner, [vehicleId]);
    }
    await recordDeed(inner, actor.id, 'settled a question', `vehicle/${vehicleId}`, {
      about: subjectId,
      answer: input.answer,
    });
  });
  return { id: input.id, vehicleId };
}
