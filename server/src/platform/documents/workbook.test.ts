import { describe, expect, it } from '@jest/globals';
import { strToU8, zipSync } from 'fflate';
import writeWorkbook, { type SheetData } from 'write-excel-file/node';
import { isArchive, readWorkbook, refuseOtherForms } from './workbook.ts';

const messageOf = async (attempt: Promise<unknown>) =>
  attempt.then(
    () => 'read',
    (error: { fields?: { message: string }[]; message: string }) => error.message,
  );

const workbook = async (data: SheetData) => new Uint8Array(await writeWorkbook([{ data, sheet: 'Checks' }]).toBuffer());

/** An archive in which every size that its directory tells of a file was made small. */
function lying(bytes: Uint8Array): Uint8Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  for (let at = 0; at + 4 < bytes.length; at += 1) {
    const mark = view.getUint32(at, true);
    if (mark === 0x04034b50) view.setUint32(at + 22, 10, true);
    if (mark === 0x02014b50) view.setUint32(at + 24, 10, true);
  }
  return bytes;
}

describe('a workbook', () => {
  it('is read as text: days as ISO dates, figures with a point, rows by their own number', async () => {
    const bytes = await workbook([
      [{ value: 'Title', type: String }],
      [],
      [
        { value: new Date('2026-04-03T00:00:00Z'), type: Date, format: 'dd/mm/yyyy' },
        { value: new Date('2026-04-03T07:45:00Z'), type: Date, format: 'dd/mm/yyyy hh:mm' },
        { value: 0.1 + 0.2, type: Number },
        { value: '8,5', type: String },
        { value: true, type: Boolean },
      ],
    ]);
    const [sheet] = await readWorkbook(bytes);
    expect(sheet?.name).toBe('Checks');
    expect(sheet?.rows[2]).toEqual({ line: 3, cells: ['2026-04-03', '2026-04-03 07:45', '0.3', '8,5', 'true'] });
  });

  it('that breaks off, is none, or is another program’s is refused with what to do', async () => {
    const whole = await workbook([[{ value: 'Title', type: String }]]);
    expect(isArchive(whole)).toBe(true);
    expect(await messageOf(readWorkbook(whole.subarray(0, whole.length / 2)))).toMatch(/Save it anew/);
    const archive = zipSync({ 'notes.txt': strToU8('hello') });
    expect(await messageOf(readWorkbook(archive))).toContain('Unpack it, and drop the files it holds');
    const other = zipSync({ mimetype: strToU8('x'), 'content.xml': strToU8('<x/>') });
    expect(await messageOf(readWorkbook(other))).toContain('OpenDocument');
    const broken = zipSync({ 'xl/workbook.xml': strToU8('<workbook') });
    expect(await messageOf(readWorkbook(broken))).toContain('The workbook can’t be read');
  });

  const bomb = zipSync(
    { 'xl/workbook.xml': strToU8('<x/>'), 'xl/worksheets/sheet1.xml': new Uint8Array(130 << 20) },
    { level: 1 },
  );
  it.each([false, true])('that unpacks to too much is refused, also where its directory lies (%s)', async (lies) => {
    expect(bomb.length).toBeLessThan(1 << 20);
    expect(await messageOf(readWorkbook(lies ? lying(bomb.slice()) : bomb))).toContain('too large');
  });
});

describe('what is no table', () => {
  it.each([
    ['an old workbook', 'd0cf11e0a1b11ae1', /XLSX or as CSV/],
    ['a PDF', '255044462d312e37', /type it/],
    ['a JPEG', 'ffd8ffe0', /typed/],
    ['a PNG', '89504e470d0a1a0a', /typed/],
  ])('%s is refused with what to do', (_, hex, words) => {
    expect(() => refuseOtherForms(Buffer.from(hex, 'hex'))).toThrow(words);
  });

  it('text and workbooks are not', () => {
    expect(() => refuseOtherForms(Buffer.from('date,unit\n'))).not.toThrow();
    expect(() => refuseOtherForms(Buffer.from('504b0304', 'hex'))).not.toThrow();
  });
});
