import { ThicknessUnit } from '@mile-mark/contract';
import type { StudyReading } from '@mile-mark/core';
import { z } from 'zod';
import type { Transaction } from '../../platform/command/command.ts';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { uuidArray } from '../../platform/db/uuidArray.ts';
import { ApiError, invalidField } from '../../platform/errors.ts';

export const StudySql = z.object({
  id: z.string(),
  name: z.string(),
  gauge_id: z.string().nullable(),
  gauge: z.string().nullable(),
  unit: ThicknessUnit.nullable(),
  parts: z.array(z.string()),
  technicians: z.array(z.object({ id: z.string().nullable(), name: z.string() })),
  repeats: z.number(),
  seed: z.number().nullable(),
  referenced: z.boolean(),
  new_um: z.number().nullable(),
  limit_um: z.number(),
  created_on: z.string(),
});
export type StudySql = z.output<typeof StudySql>;

export const ValueSql = z.object({
  study_id: z.string(),
  part: z.string(),
  technician: z.string(),
  trial: z.number(),
  value_um: z.number(),
  typed: z.string(),
});
export type ValueSql = z.output<typeof ValueSql>;

export const STUDIES = `
  select s.id, s.name, s.gauge_id, g.name as gauge, g.unit, s.parts, s.technicians, s.repeats, s.seed, s.referenced,
    s.new_um, s.limit_um, s.created_on::text
  from gauge_study s left join gauge g on g.id = s.gauge_id`;
/** The newest value of each cell counts; older ones stay on record. */
const VALUES = `
  select distinct on (study_id, part, technician, trial) study_id, part, technician, trial, value_um, typed
  from study_value where study_id = any(?::uuid[]) order by study_id, part, technician, trial, serial desc`;

export async function valuesOf(em: EntityManager, ids: string[]): Promise<ValueSql[]> {
  return rowsOf(em, ValueSql, VALUES, [uuidArray(ids)]);
}

/** How many measurements a study asks for. */
export const runsOf = ({ parts, technicians, repeats }: StudySql): number =>
  parts.length * technicians.length * repeats;

export async function studyOf(em: EntityManager, id: string): Promise<StudySql> {
  const [study] = await rowsOf(em, StudySql, `${STUDIES} where s.id = ?`, [id]);
  if (!study) throw new ApiError('not_found', 'There is no such study on record.');
  return study;
}

/** The values of a study in the order of its parts and technicians. */
export const readingsOf = (study: StudySql, values: readonly ValueSql[]): StudyReading[] =>
  [...values]
    .sort(
      (a, b) =>
        study.parts.indexOf(a.part) - study.parts.indexOf(b.part) ||
        study.technicians.findIndex(({ name }) => name === a.technician) -
          study.technicians.findIndex(({ name }) => name === b.technician),
    )
    .map(({ part, technician, trial, value_um }) => ({ part, technician, trial, value: value_um / 1000 }));

/** Limit at which a verdict is given where a study states none, mm. */
const USUAL_LIMIT_MM = 3;

export function refuseTolerance({
  newMm,
  limitMm,
}: {
  newMm?: number | undefined;
  limitMm?: number | undefined;
}): void {
  const limit = limitMm ?? USUAL_LIMIT_MM;
  if (newMm !== undefined && newMm <= limit)
    throw invalidField('newMm', `A new thickness above the limit of ${limit} mm is accepted.`);
}

interface StudyRow {
  id: string;
  name: string;
  gaugeId?: string | undefined;
  parts: string[];
  technicians: StudySql['technicians'];
  repeats: number;
  seed?: number | undefined;
  referenced: boolean;
  newMm?: number | undefined;
  limitMm?: number | undefined;
}

/** Puts a study on record. */
export async function insertStudy({ em, actor, today, audit }: Transaction, study: StudyRow): Promise<void> {
  await em.execute(
    `insert into gauge_study (id, name, gauge_id, parts, technicians, repeats, seed, referenced, new_um, limit_um, created_by, created_on)
     values (?, ?, ?, ?::jsonb, ?::jsonb, ?, ?, ?, ?, ?, ?, ?::date)`,
    [
      study.id,
      study.name,
      study.gaugeId ?? null,
      JSON.stringify(study.parts),
      JSON.stringify(study.technicians),
      study.repeats,
      study.seed ?? null,
      study.referenced,
      study.newMm === undefined ? null : Math.round(study.newMm * 1000),
      Math.round((study.limitMm ?? USUAL_LIMIT_MM) * 1000),
      actor.id,
      today,
    ],
  );
  await audit('planned a gauge study', `study/${study.id}`, { name: study.name });
}

interface NewValue {
  id: string;
  part: string;
  technician: string;
  trial: number;
  valueUm: number;
  typed: string;
}

export async function insertValues({ em, actor }: Transaction, studyId: string, values: NewValue[]): Promise<void> {
  await em.execute(
    `insert into study_value (id, study_id, part, technician, trial, value_um, typed, entered_by)
     select id, ?, part, technician, trial, value_um, typed, ?
     from jsonb_to_recordset(?::jsonb) as t(id uuid, part text, technician text, trial int, value_um float8, typed text)
     on conflict (id) do nothing`,
    [studyId, actor.id, JSON.stringify(values.map(({ valueUm, ...rest }) => ({ ...rest, value_um: valueUm })))],
  );
}
