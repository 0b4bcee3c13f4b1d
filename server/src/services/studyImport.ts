import { parse } from 'csv-parse/sync';
import type { z } from 'zod';
import type { StudyImport } from '@mile-mark/contract';
import { studyGaps, type StudyGap, type StudyReading } from '@mile-mark/core';
import { mustBeAllowed, type Actor } from '../auth/policy.ts';
import type { EntityManager } from '../db/orm.ts';
import { Refusal, refuseField } from '../errors.ts';
import { insertStudy, insertValues, refuseTolerance } from './studyRows.ts';

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
