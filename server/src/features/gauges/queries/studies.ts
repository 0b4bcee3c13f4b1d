import type { StudyDetail, StudyFigures, StudySummary, VariationView } from '@mile-mark/contract/gauges';
import { mayDo } from '@mile-mark/contract';
import { analyseStudy, planStudy, studyGaps, type StudyReading, studyVerdict, type Variation } from '@mile-mark/core';
import { type Actor, mustBeAllowed } from '../../../platform/auth/policy.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { readingsOf, runsOf, STUDIES, studyOf, StudySql, valuesOf, type ValueSql } from '../studyRows.ts';

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
  const studies = await rowsOf(em, StudySql, `${STUDIES} order by s.created_at desc`);
  const values = await valuesOf(
    em,
    studies.map(({ id }) => id),
  );
  return studies.map((study) => summaryOf(study, values));
}

export function planOf({ parts, technicians, repeats, seed }: StudySql) {
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
  const everybody = mayDo(actor.role, 'seeEverybody');
  const own = new Set(study.technicians.filter((one) => everybody || one.id === actor.id).map(({ name }) => name));
  const figures = (interaction: 'test' | 'pool' | 'keep') => {
    const { byTechnician, byPart, ...all } = figuresOf(readings, interaction, newMm, limitMm);
    return {
      ...all,
      byTechnician: byTechnician.filter(({ technician }) => own.has(technician)),
      byPart: everybody ? byPart : byPart.map((part) => ({ ...part, values: [] })),
    };
  };
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
      const seen = own.has(run.technician) ? value : undefined;
      return {
        ...run,
        measured: value !== undefined,
        valueMm: seen ? seen.value_um / 1000 : null,
        typed: seen?.typed ?? null,
      };
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
