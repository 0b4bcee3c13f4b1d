import type { ImportPreview, Understanding } from '@mile-mark/contract/imports';
import type { CsvFile } from '../../platform/documents/csv.ts';
import { FIELDS } from './fields.ts';

export function needsOf(file: CsvFile, understanding: Understanding): ImportPreview['needs'] {
  const filled = new Set(understanding.columns.map(({ field }) => field));
  const needs: ImportPreview['needs'] = FIELDS[understanding.kind]
    .filter(({ field, needed }) => needed && !filled.has(field))
    .map(({ field, label }) => ({ kind: 'column' as const, name: field, message: `Which column is “${label}”?` }));
  if (understanding.kind !== 'readings') return needs;
  if (!filled.has('wheel') && !filled.has('axle'))
    needs.push({ kind: 'column', name: 'wheel', message: 'Which column is the wheel or the axle?' });
  if (![...filled].some((field) => /^(thickness|inner|outer|(left|right)_(inner|outer))$/.test(field))) {
    needs.push({ kind: 'column', name: 'thickness', message: 'Which column holds a thickness?' });
  }
  if (understanding.technicianId === null)
    needs.push({ kind: 'technician', name: null, message: 'The sheet doesn’t say who measured. Who was it?' });
  const unmatched = gaugeNamesIn(file, understanding).filter((name) => !understanding.gaugeNames[name]);
  for (const name of unmatched)
    needs.push({
      kind: 'gauge',
      name,
      message: `The sheet names a gauge “${name}” that is not on record. Which is it?`,
    });
  if (!filled.has('gauge') && understanding.gaugeId === null)
    needs.push({ kind: 'gauge', name: null, message: 'The sheet doesn’t say with which gauge. Which was it?' });
  return needs;
}

/** Names of gauges a sheet tells, each once. */
export function gaugeNamesIn(file: CsvFile, { columns }: Understanding): string[] {
  const column = columns.findIndex(({ field }) => field === 'gauge');
  if (column < 0) return [];
  return [
    ...new Set(file.records.map(({ cells }) => (cells[column] ?? '').trim()).filter((name) => name !== '')),
  ].slice(0, 50);
}
