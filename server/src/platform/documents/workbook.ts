import { Unzip, UnzipInflate } from 'fflate';
import readWorkbookFile from 'read-excel-file/node';
import { ApiError } from '../errors.ts';
import type { CsvRecord } from './csv.ts';

/** One sheet of a workbook: its rows as text, by the number the program shows beside them. */
export interface WorkbookSheet {
  name: string;
  rows: CsvRecord[];
}

/** A workbook that unpacks to more than this is refused before it is unpacked. */
const MOST_UNPACKED_BYTES = 120 * 1024 * 1024;

const startsWith = (bytes: Uint8Array, ...first: number[]) => first.every((byte, index) => bytes[index] === byte);

/** Whether these bytes are a ZIP archive, as an XLSX workbook is one. */
export const isArchive = (bytes: Uint8Array): boolean => startsWith(bytes, 0x50, 0x4b, 0x03, 0x04);

/** Refuses what is known not to be a table, and says what to do with it. */
export function refuseOtherForms(bytes: Uint8Array): void {
  if (startsWith(bytes, 0xd0, 0xcf, 0x11, 0xe0))
    throw refused('This is a workbook of the old form (XLS). Save it as XLSX or as CSV, and drop that.');
  if (startsWith(bytes, 0x25, 0x50, 0x44, 0x46))
    throw refused('This is a PDF, which holds a picture of a table. Ask for the sheet as CSV or XLSX, or type it.');
  if (startsWith(bytes, 0xff, 0xd8, 0xff) || startsWith(bytes, 0x89, 0x50, 0x4e, 0x47))
    throw refused(
      'This is a picture. The figures of a photographed sheet must be typed; a CSV or XLSX file is accepted.',
    );
}

/**
 * Reads every sheet of an XLSX workbook as text: dates as ISO dates, figures with a decimal point.
 *
 * @throws ApiError where it is another archive, unpacks to too much or can't be read
 */
export async function readWorkbook(bytes: Uint8Array): Promise<WorkbookSheet[]> {
  const names = namesIn(bytes);
  if (names.includes('mimetype') && names.includes('content.xml'))
    throw refused('This is an OpenDocument sheet. Save it as XLSX or as CSV, and drop that.');
  if (!names.includes('xl/workbook.xml'))
    throw refused('This is an archive without a workbook in it. Unpack it, and drop the files it holds.');
  try {
    const sheets = await readWorkbookFile(Buffer.from(bytes));
    return sheets.map(({ sheet, data }) => ({
      name: sheet,
      rows: data.map((cells, index) => ({ line: index + 1, cells: cells.map(asText) })),
    }));
  } catch (error) {
    const why = error instanceof Error ? ` (${error.message.slice(0, 120)})` : '';
    throw refused(`The workbook can’t be read${why}. Save it anew as XLSX, or as CSV.`);
  }
}

/**
 * Names of the files of an archive. It is unpacked once to see how much it holds, whatever its own directory says, and
 * refused as soon as it is too much; nothing of it is kept.
 */
function namesIn(bytes: Uint8Array): string[] {
  const names: string[] = [];
  let unpacked = 0;
  const archive = new Unzip((file) => {
    names.push(file.name);
    file.ondata = (error, chunk) => {
      if (error) throw error;
      unpacked += chunk.length;
      if (unpacked > MOST_UNPACKED_BYTES) throw new TooMuch();
    };
    file.start();
  });
  archive.register(UnzipInflate);
  try {
    for (let at = 0; at < bytes.length; at += CHUNK_BYTES)
      archive.push(bytes.subarray(at, at + CHUNK_BYTES), at + CHUNK_BYTES >= bytes.length);
  } catch (error) {
    if (error instanceof TooMuch)
      throw new ApiError('too_large', 'The workbook is too large.', [
        { field: 'file', message: 'The workbook unpacks to more than 120 MB; split it, or save the one sheet as CSV.' },
      ]);
    throw refused('The file begins like a workbook and breaks off. Save it anew as XLSX, or as CSV.');
  }
  return names;
}

/** So much of an archive is unpacked between two looks at how much it was. */
const CHUNK_BYTES = 8 * 1024;
class TooMuch extends Error {}

function asText(cell: unknown): string {
  if (cell === null || cell === undefined) return '';
  if (cell instanceof Date) {
    const text = cell.toISOString();
    return text.endsWith('T00:00:00.000Z') ? text.slice(0, 10) : text.slice(0, 16).replace('T', ' ');
  }
  // A computed 8.600000000000001 is the 8.6 that the program shows.
  if (typeof cell === 'number') return String(Number(cell.toPrecision(12)));
  return typeof cell === 'string' || typeof cell === 'boolean' ? String(cell) : '';
}

function refused(message: string): ApiError {
  return new ApiError('invalid', message, [{ field: 'file', message }]);
}
