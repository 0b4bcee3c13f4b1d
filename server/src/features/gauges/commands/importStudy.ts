import { parse } from 'csv-parse/sync';
import type { z } from 'zod';
import type { StudyImport } from '@mile-mark/contract/gauges';
import { figureOf, type StudyGap, studyGaps, type StudyReading } from '@mile-mark/core';
import { studyImported } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { PersonEntity } from '../../people/index.ts';
import { insertStudy, insertValues, refuseTolerance } from '../studyRows.ts';

/** No pad is thicker than this with its plate, mm. */
const MOST_MM = 60;

const COLUMNS = {
  part: ['part', 'pad', 'piece', 'sample'],
  technician: ['technician', 'appraiser', 'operator', 'person'],
  trial: ['trial', 'repeat', 'replicate'],
  value: ['value', 'thickness', 'measurement', 'deviation', 'mm'],
} as const;

/** Takes in a study measured elsewhere; it must be complete, values may be negative. */
export const importStudy = command({
  name: 'importStudy',
  action: 'study',
  clientId: 'id',
  run: async (tx, input: z.output<typeof StudyImport>) => {
    refuseTolerance(input);
    const readings = completeReadings(input.csv);
    const technicians = await peopleNamed(tx.em, [...new Set(readings.map(({ technician }) => technician))]);
    const parts = [...new Set(readings.map(({ part }) => part))];
    const repeats = new Set(readings.map(({ trial }) => trial)).size;
    await insertStudy(tx, { ...input, parts, technicians, repeats });
    const values = readings.map(({ value, ...rest }) => ({ ...rest, id: crypto.randomUUID(), valueUm: value * 1000 }));
    await insertValues(tx, input.id, values);
    await tx.emit(studyImported({}));
    return { id: input.id };
  },
});

/** Technicians by name, with who they are here; null where nobody on record has the name. */
async function peopleNamed(em: EntityManager, names: string[]): Promise<{ id: string | null; name: string }[]> {
  const people = await em.find(PersonEntity, {});
  const idOf = (name: string) => people.find((one) => one.name.toLowerCase() === name.toLowerCase())?.id ?? null;
  return names.map((name) => ({ id: idOf(name), name }));
}

/** The readings of a file; refused where one is missing or there twice. */
function completeReadings(csv: string): (StudyReading & { typed: string })[] {
  const readings = readingsOfCsv(csv);
  const gaps = studyGaps(readings.map(({ typed: _typed, ...rest }) => rest));
  if (gaps.length > 0)
    throw new ApiError(
      'invalid',
      undefined,
      gaps.slice(0, 5).map((gap) => ({ field: 'csv', message: gapInWords(gap) })),
    );
  return readings;
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
    throw invalidField('csv', `The file can’t be read as CSV: ${(error as Error).message}`);
  }
  const [header = [], ...lines] = rows;
  const at = (field: keyof typeof COLUMNS) => {
    const index = header.findIndex((name) => (COLUMNS[field] as readonly string[]).includes(name.toLowerCase()));
    if (index < 0)
      throw invalidField(
        'csv',
        `No column for the ${field}; a header such as ${COLUMNS[field].join(' or ')} is accepted.`,
      );
    return index;
  };
  const columns = { part: at('part'), technician: at('technician'), trial: at('trial'), value: at('value') };
  if (lines.length > 5000) throw invalidField('csv', `${lines.length} lines; up to 5,000 are accepted.`);
  // A file parted by semicolons may write decimal commas; one parted by commas can't.
  const mark = lines.some((cells) => /\d,\d/.test(cells[columns.value] ?? '')) ? ',' : '.';
  return lines.map((cells, index) => {
    const cell = (field: keyof typeof columns) => cells[columns[field]] ?? '';
    const where = `Line ${index + 2}`;
    const typed = cell('value');
    const value = figureOf(typed.replace('–', '-'), { mark }) ?? NaN;
    if (!(Math.abs(value) <= MOST_MM))
      throw invalidField(
        'csv',
        `${where}: “${typed}” is not a value; a figure in mm such as 8.5 or −0.56, up to ${MOST_MM}, is accepted.`,
      );
    const trial = Number(cell('trial'));
    if (!Number.isInteger(trial) || trial < 1 || trial > 10)
      throw invalidField('csv', `${where}: “${cell('trial')}” is not a trial; 1 to 10 is accepted.`);
    if (cell('part') === '' || cell('technician') === '')
      throw invalidField('csv', `${where}: part and technician are both needed.`);
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
