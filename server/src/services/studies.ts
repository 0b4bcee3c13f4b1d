import { parse } from 'csv-parse/sync';
import type { z } from 'zod';
import type {
  NewStudy,
  NewStudyValue,
  StudyDetail,
  StudyFigures,
  StudyImport,
  StudySummary,
  VariationView,
} from '@mile-mark/contract';
import {
  analyseStudy,
  parseThickness,
  planStudy,
  studyEvidence,
  studyGaps,
  studyVerdict,
  type Hand,
  type HandEvidence,
  type StudyGap,
  type StudyReading,
  type ThicknessUnit,
  type Variation,
} from '@mile-mark/core';
import { mustBeAllowed, type Actor } from '../auth/policy.ts';
import { GaugeEntity } from '../db/entities.ts';
import { handKey } from '../db/mappers.ts';
import type { EntityManager } from '../db/orm.ts';
import { uuidArray } from '../db/uuidArray.ts';
import { Refusal, refuseField } from '../errors.ts';
import { recordDeed } from './audit.ts';

interface StudySql {
  id: string;
  name: string;
  gauge_id: string | null;
  gauge: string | null;
  unit: ThicknessUnit | null;
  parts: string[];
  technicians: { id: string | null; name: string }[];
  repeats: number;
  seed: number | null;
  referenced: boolean;
  new_um: number | null;
  limit_um: number;
  created_on: string;
}

interface ValueSql {
  study_id: string;
  part: string;
  technician: string;
  trial: number;
  value_um: number;
  typed: string;
}

const STUDIES = `
  select s.id, s.name, s.gauge_id, g.name as gauge, g.unit, s.parts, s.technicians, s.repeats, s.seed, s.referenced,
    s.new_um, s.limit_um, s.created_on::text
  from gauge_study s left join gauge g on g.id = s.gauge_id`;
/** The newest value of each cell counts; older ones stay on record. */
const VALUES = `
  select distinct on (study_id, part, technician, trial) study_id, part, technician, trial, value_um, typed
  from study_value where study_id = any(?::uuid[]) order by study_id, part, technician, trial, serial desc`;

async function valuesOf(em: EntityManager, ids: string[]): Promise<ValueSql[]> {
  return em.execute<ValueSql[]>(VALUES, [uuidArray(ids)]);
}

function summaryOf(study: StudySql, values: readonly ValueSql[]): StudySummary {
  return {
    id: study.id,
    name: study.name,
    gauge: study.gauge,
    parts: study.parts.length,
    technicians: study.technicians.length,
    repeats: study.repeats,
    measured: values.filter(({ study_id }) => study_id === study.id).length,
    runs: study.parts.length * study.technicians.length * study.repeats,
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

async function studyOf(em: EntityManager, id: string): Promise<StudySql> {
  const [study] = await em.execute<StudySql[]>(`${STUDIES} where s.id = ?`, [id]);
  if (!study) throw new Refusal('not_found', 'There is no such study on record.');
  return study;
}

/** The values of a study in the order of its parts and technicians. */
const readingsOf = (study: StudySql, values: readonly ValueSql[]): StudyReading[] =>
  [...values]
    .sort(
      (a, b) =>
        study.parts.indexOf(a.part) - study.parts.indexOf(b.part) ||
        study.technicians.findIndex(({ name }) => name === a.technician) -
          study.technicians.findIndex(({ name }) => name === b.technician),
    )
    .map(({ part, technician, trial, value_um }) => ({ part, technician, trial, value: value_um / 1000 }));

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
  const complete = readings.length === summaryOf(study, values).runs && studyGaps(readings).length === 0;
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

/** Limit at which a verdict is given where a study states none, mm. */
const USUAL_LIMIT_MM = 3;

function refuseTolerance({ newMm, limitMm }: { newMm?: number | undefined; limitMm?: number | undefined }): void {
  const limit = limitMm ?? USUAL_LIMIT_MM;
  if (newMm !== undefined && newMm <= limit)
    throw refuseField('newMm', `A new thickness above the limit of ${limit} mm is accepted.`);
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

async function insertStudy(em: EntityManager, actor: Actor, study: StudyRow, today: string): Promise<void> {
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
  await recordDeed(em, actor.id, 'planned a gauge study', `study/${study.id}`, { name: study.name });
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
  if (!run) throw refuseField('run', `This study has ${summaryOf(study, []).runs} runs.`);
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

interface NewValue {
  id: string;
  part: string;
  technician: string;
  trial: number;
  valueUm: number;
  typed: string;
}

async function insertValues(em: EntityManager, actor: Actor, studyId: string, values: NewValue[]): Promise<void> {
  await em.execute(
    `insert into study_value (id, study_id, part, technician, trial, value_um, typed, entered_by)
     select id, ?, part, technician, trial, value_um, typed, ?
     from jsonb_to_recordset(?::jsonb) as t(id uuid, part text, technician text, trial int, value_um float8, typed text)
     on conflict (id) do nothing`,
    [studyId, actor.id, JSON.stringify(values.map(({ valueUm, ...rest }) => ({ ...rest, value_um: valueUm })))],
  );
}

const COLUMNS = {
  part: ['part', 'pad', 'piece', 'sample'],
  technician: ['technician', 'appraiser', 'operator', 'person'],
  trial: ['trial', 'repeat', 'replicate'],
  value: ['value', 'thickness', 'measurement', 'deviation', 'mm'],
} as const;

/** Takes in a study measured elsewhere; it must be complete, values may be negative. */
export async function importStudy(
  em: EntityManager,
  actor: Actor,
  input: z.output<typeof StudyImport>,
  today: string,
): Promise<{ id: string }> {
  mustBeAllowed(actor, 'register');
  refuseTolerance(input);
  const readings = readingsOfCsv(input.csv);
  const gaps = studyGaps(readings.map(({ typed: _typed, ...rest }) => rest));
  if (gaps.length > 0)
    throw new Refusal(
      'invalid',
      undefined,
      gaps.slice(0, 5).map((gap) => ({ field: 'csv', message: gapInWords(gap) })),
    );
  const names = [...new Set(readings.map(({ technician }) => technician))];
  const people = await em.execute<{ id: string; name: string }[]>('select id, name from person');
  const technicians = names.map((name) => ({
    id: people.find((one) => one.name.toLowerCase() === name.toLowerCase())?.id ?? null,
    name,
  }));
  const parts = [...new Set(readings.map(({ part }) => part))];
  const repeats = new Set(readings.map(({ trial }) => trial)).size;
  await em.transactional(async (inner) => {
    await insertStudy(inner, actor, { ...input, parts, technicians, repeats }, today);
    await insertValues(
      inner,
      actor,
      input.id,
      readings.map(({ value, ...rest }) => ({ ...rest, id: crypto.randomUUID(), valueUm: value * 1000 })),
    );
  });
  return { id: input.id };
}

function readingsOfCsv(text: string): (StudyReading & { typed: string })[] {
  const csv = text.replace(/\r\n?/g, '\n');
  let rows: string[][];
  try {
    const separator = (csv.split('\n')[0] ?? '').includes(';') ? ';' : ',';
    rows = parse(csv, {
      bom: true,
      trim: true,
      skip_empty_lines: true,
      relax_column_count: true,
      delimiter: separator,
    });
  } catch (error) {
    throw refuseField('csv', `The file can’t be read as CSV: ${(error as Error).message}`);
  }
  const [header = [], ...lines] = rows;
  const at = (field: keyof typeof COLUMNS) => {
    const index = header.findIndex((name) => (COLUMNS[field] as readonly string[]).includes(name.toLowerCase()));
    if (index < 0)
      throw refuseField(
        'csv',
        `No column for the ${field}; a header such as ${COLUMNS[field].join(' or ')} is accepted.`,
      );
    return index;
  };
  const columns = { part: at('part'), technician: at('technician'), trial: at('trial'), value: at('value') };
  if (lines.length > 5000) throw refuseField('csv', `${lines.length} lines; up to 5,000 are accepted.`);
  return lines.map((cells, index) => {
    const cell = (field: keyof typeof columns) => cells[columns[field]] ?? '';
    const where = `Line ${index + 2}`;
    const typed = cell('value');
    const value = Number(typed.replace(/^[−–]/, '-').replace(/^(-?\d+),(\d+)$/, '$1.$2'));
    if (typed === '' || !Number.isFinite(value) || Math.abs(value) > 60)
      throw refuseField(
        'csv',
        `${where}: “${typed}” is not a value; a figure in mm such as 8.5 or −0.56, up to 60, is accepted.`,
      );
    const trial = Number(cell('trial'));
    if (!Number.isInteger(trial) || trial < 1 || trial > 10)
      throw refuseField('csv', `${where}: “${cell('trial')}” is not a trial; 1 to 10 is accepted.`);
    if (cell('part') === '' || cell('technician') === '')
      throw refuseField('csv', `${where}: part and technician are both needed.`);
    return { part: cell('part'), technician: cell('technician'), trial, value, typed };
  });
}

function gapInWords(gap: StudyGap): string {
  switch (gap.kind) {
    case 'too_few_parts':
      return 'At least 2 parts are needed.';
    case 'too_few_technicians':
      return 'At least 2 technicians are needed.';
    case 'too_few_trials':
      return 'At least 2 trials are needed.';
    case 'missing':
      return `Part ${gap.part} by ${gap.technician}, trial ${gap.trial} is missing; every technician measures every part equally often.`;
    case 'repeated':
      return `Part ${gap.part} by ${gap.technician}, trial ${gap.trial} is there twice.`;
  }
}

/** What finished studies with a gauge and people on record say of the hands in them. */
export async function studyEvidenceOf(em: EntityManager, present: (key: string) => Hand): Promise<HandEvidence[]> {
  const studies = await em.execute<StudySql[]>(`${STUDIES} where s.gauge_id is not null`);
  const values = await valuesOf(
    em,
    studies.map(({ id }) => id),
  );
  return studies.flatMap((study) => {
    const readings = readingsOf(
      study,
      values.filter(({ study_id }) => study_id === study.id),
    );
    const known = study.technicians.every(({ id }) => id !== null);
    if (!known || readings.length !== summaryOf(study, []).runs || studyGaps(readings).length > 0) return [];
    const { byTechnician } = analyseStudy(readings, { interaction: 'test' });
    const idOf = new Map(study.technicians.map(({ id, name }) => [name, id ?? '']));
    return [
      studyEvidence(
        byTechnician.map(({ technician }) => handKey(idOf.get(technician) ?? '', study.gauge_id ?? '')),
        byTechnician.map(({ mean }) => mean),
        byTechnician.map(({ ev }) => ev ** 2),
        { parts: study.parts.length, trials: study.repeats },
        study.referenced,
        present,
      ),
    ];
  });
}
