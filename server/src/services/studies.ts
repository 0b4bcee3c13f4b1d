import type { z } from 'zod';
import type {
  NewStudy,
  NewStudyValue,
  StudyDetail,
  StudyFigures,
  StudySummary,
  VariationView,
} from '@mile-mark/contract';
import {
  analyseStudy,
  parseThickness,
  planStudy,
  studyGaps,
  studyVerdict,
  type StudyReading,
  type Variation,
} from '@mile-mark/core';
import { mustBeAllowed, type Actor } from '../auth/policy.ts';
import { GaugeEntity } from '../db/entities.ts';
import type { EntityManager } from '../db/orm.ts';
import { uuidArray } from '../db/uuidArray.ts';
import { refuseField } from '../errors.ts';
import {
  insertStudy,
  insertValues,
  readingsOf,
  refuseTolerance,
  runsOf,
  STUDIES,
  studyOf,
  valuesOf,
  type StudySql,
  type ValueSql,
} from './studyRows.ts';

function summaryOf(study: StudySql, values: readonly ValueSql[]): StudySummary {
  return {
    id: study.id,
    name: study.name,
    gauge: study.gauge,
    parts: study.parts.length,
    technicians: study.technicians.length,
    repeats: study.repeats,
    measured: values.filter(({ study_id }) => study_id === study.id).length,
    runs: runsOf(study),
    createdAt: study.created_on,
  };
}

export async function listStudies(em: EntityManager, actor: Actor): Promise<StudySummary[]> {
  mustBeAllowed(actor, 'measure');
  const studies = await em.execute<StudySql[]>(`${STUDIES} order by s.created_at desc`);
  const values = await valuesOf(
    em,
    studies.map(({ id }) => id),
  );
  return studies.map((study) => summaryOf(study, values));
}

function planOf({ parts, technicians, repeats, seed }: StudySql) {
  return planStudy(
    parts,
    technicians.map(({ name }) => name),
    repeats,
    seed ?? 0,
  );
}

export async function studyDetail(em: EntityManager, actor: Actor, id: string): Promise<StudyDetail> {
  mustBeAllowed(actor, 'measure');
  const study = await studyOf(em, id);
  const values = await valuesOf(em, [id]);
  const readings = readingsOf(study, values);
  const complete = readings.length === runsOf(study) && studyGaps(readings).length === 0;
  const limitMm = study.limit_um / 1000;
  const newMm = study.new_um === null ? null : study.new_um / 1000;
  const figures = (interaction: 'test' | 'pool' | 'keep') => figuresOf(readings, interaction, newMm, limitMm);
  return {
    ...summaryOf(study, values),
    seed: study.seed,
    unit: study.unit ?? 'mm',
    newMm,
    limitMm,
    referenced: study.referenced,
    plan: planOf(study).map((run) => {
      const value = values.find(
        (one) => one.part === run.part && one.technician === run.technician && one.trial === run.trial,
      );
      return { ...run, valueMm: value ? value.value_um / 1000 : null, typed: value?.typed ?? null };
    }),
    figures: complete ? { test: figures('test'), pool: figures('pool'), keep: figures('keep') } : null,
  };
}

function figuresOf(
  readings: StudyReading[],
  interaction: 'test' | 'pool' | 'keep',
  newMm: number | null,
  limitMm: number,
): StudyFigures {
  const result = analyseStudy(readings, { interaction, toleranceMm: newMm === null ? undefined : newMm - limitMm });
  return {
    pooled: result.anova.pooled,
    anova: variationView(result.anova.variation),
    averageAndRange: variationView(result.averageAndRange.variation),
    table: result.anova.table.map(({ ms, f, p, ...line }) => ({ ...line, ms: ms ?? null, f: f ?? null, p: p ?? null })),
    byTechnician: result.byTechnician,
    byPart: result.byPart,
    verdict: { ...studyVerdict(result.anova.variation, limitMm), limitMm },
  };
}

function variationView({ percentOfTolerance, ndc, ...rest }: Variation): VariationView {
  return { ...rest, percentOfTolerance: percentOfTolerance ?? null, ndc: Number.isFinite(ndc) ? ndc : null };
}

export async function addStudy(
  em: EntityManager,
  actor: Actor,
  input: z.output<typeof NewStudy>,
  today: string,
): Promise<{ id: string }> {
  mustBeAllowed(actor, 'register');
  refuseTolerance(input);
  if (!(await em.findOne(GaugeEntity, { id: input.gaugeId })))
    throw refuseField('gaugeId', 'There is no such gauge on record; one of the gauge list is accepted.');
  const people = await em.execute<{ id: string; name: string }[]>(
    `select id, name from person where id = any(?::uuid[]) and role in ('technician', 'coordinator')`,
    [uuidArray(input.technicianIds)],
  );
  const technicians = input.technicianIds.map((id) => {
    const person = people.find((one) => one.id === id);
    if (!person)
      throw refuseField('technicianIds', 'Somebody in the list does not measure; technicians on record are accepted.');
    return { id, name: person.name };
  });
  await em.transactional(async (inner) =>
    insertStudy(inner, actor, { ...input, technicians, referenced: false }, today),
  );
  return { id: input.id };
}

/** Enters one measurement of a planned study, in the gauge's unit; the newest of a run counts. */
export async function addStudyValue(
  em: EntityManager,
  actor: Actor,
  studyId: string,
  input: z.output<typeof NewStudyValue>,
): Promise<{ id: string }> {
  mustBeAllowed(actor, 'measure');
  const study = await studyOf(em, studyId);
  const run = planOf(study)[input.run - 1];
  if (!run) throw refuseField('run', `This study has ${runsOf(study)} runs.`);
  const parsed = parseThickness(input.value, { unit: study.unit ?? 'mm' });
  if (!parsed.ok) throw refuseField('value', parsed.failure.message);
  if (parsed.value.mm > 60)
    throw refuseField('value', `${input.value} is ${parsed.value.mm.toFixed(1)} mm; up to 60 mm is accepted.`);
  await em.transactional(async (inner) => {
    await insertValues(inner, actor, studyId, [
      { id: input.id, ...run, valueUm: parsed.value.mm * 1000, typed: input.value },
    ]);
  });
  return { id: input.id };
}
