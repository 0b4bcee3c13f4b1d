import { csvOf } from './tableCsv.ts';

/** Hands rows to the reader as a CSV file of this name. */
export async function saveCsv(name: string, rows: string[][]): Promise<void> {
  const { stringify } = await import('csv-stringify/browser/esm/sync');
  const csv = csvOf(rows, (own) => stringify(own));
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([csv], { type: 'text/csv;charset=utf-8' }));
  link.download = `${name}.csv`;
  link.click();
  URL.revokeObjectURL(link.href);
}
