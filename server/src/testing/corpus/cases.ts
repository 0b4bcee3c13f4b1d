import type { ImportNeed } from '@mile-mark/contract/imports';
import { type Look, looksAt } from './fleet.ts';
import { type Paper, PLAIN_PAPER, textFile, workbookFile } from './paper.ts';
import { grouped, PLAIN, stepOfThickness, type Style, WHEELS, write } from './style.ts';

/** One file of the corpus: what is wrong or odd with it, its bytes, and the truth it was written from. */
export interface Case {
  name: string;
  bytes: () => Promise<Uint8Array> | Uint8Array;
  /** What was measured and should be on record afterwards. */
  looks: Look[];
  style: Style;
  /** What must be asked, since nothing decides it; nothing else but who and with what may be. */
  asks: ImportNeed['kind'][];
  /** What the person who wrote the sheet would answer. */
  answers: Record<string, string>;
  /** Lines with a slip in them, and what the reason against them must say. */
  slips: { line: number; says: RegExp; keeps?: boolean }[];
}

interface Making {
  name: string;
  style?: Partial<Style>;
  paper?: Partial<Paper>;
  workbook?: boolean;
  units?: string[];
  asks?: Case['asks'];
  answers?: Case['answers'];
  looks?: Parameters<typeof looksAt>[1];
  /** Changes the written sheet: lines with a slip. */
  spoil?: (rows: string[][]) => Case['slips'];
  /** Whether the looks of the sheet are on two-axle vehicles alone. */
  seed?: number;
}

const VANS = ['V1', 'V2', 'V3'];
const ALL = [...VANS, 'T1', 'T2'];

export function make({
  name,
  style,
  paper,
  workbook,
  units,
  asks = [],
  answers = {},
  looks,
  spoil,
  seed,
}: Making): Case {
  const full: Style = { ...PLAIN, ...style };
  const onPaper: Paper = { ...PLAIN_PAPER, ...paper };
  const named = full.layout !== 'an axle a row' && full.layout !== 'a pad a row';
  const byCorner = named && full.wheel !== WHEELS.L1 && full.wheel !== WHEELS['axle 1 left'];
  const steps = { distance: full.distance, thickness: stepOfThickness(full.thickness) };
  const truth = looksAt(units ?? (byCorner ? VANS : ALL), { steps, ...(seed === undefined ? {} : { seed }), ...looks });
  const written = write(truth, full);
  const slips = spoil?.(written.rows) ?? [];
  const bytes = () => (workbook ? workbookFile(written, onPaper) : textFile(written, onPaper));
  return { name, bytes, looks: truth, style: full, asks, answers, slips };
}

const KM: Partial<Style> = { distance: 'km', heads: ['Date', 'Unit', 'Odometer km'] };
const COMMAS: Partial<Style> = { thickness: '8,5' };
const SEMICOLONS: Partial<Paper> = { delimiter: ';' };
/** Days on which day and month can be told apart by nothing, and differ. */
const UNTOLD = { steps: { distance: 'mi', thickness: 'mm' } as const, dayOfMonth: (look: number) => 2 + look };

const TITLE = [['Brake checks, North yard'], [], ['kept by the night shift', '', 'printed weekly']];

const dates: Case[] = [
  ...(
    [
      'd.m.y',
      'd.m.yy',
      'm/d/y',
      'm/d/yy',
      'd/m/y',
      'd/m/yy',
      'yy/m/d',
      'd-m-y',
      'd Mon y',
      'Mon d, y',
      'd-Mon-yy',
      'd. Monat y',
      'with a time',
      'with T and Z',
      'm/d/y with am',
      'eight digits',
      'a day number',
    ] as const
  ).map((way) => make({ name: `dates as ${way}`, style: { dates: way } })),
  ...(['m/d/y', 'd/m/y', 'm/d/yy', 'd/m/yy', 'd-m-y'] as const).map((way) =>
    make({
      name: `dates as ${way} that two orders fit`,
      style: { dates: way },
      looks: UNTOLD,
      asks: ['dateOrder'],
      answers: { dateOrder: way.startsWith('m') ? 'MDY' : 'DMY' },
    }),
  ),
  make({ name: 'dates with dots that two orders fit', style: { dates: 'd.m.y' }, looks: UNTOLD }),
  make({
    name: 'dates of one order and a slip of the other',
    style: { dates: 'd/m/y' },
    spoil: (rows) => {
      const [row] = rows;
      if (row) row[0] = '13/13/2026';
      return [{ line: 2, says: /not a day/ }];
    },
  }),
  make({
    name: 'dates of one order, one of them ahead of today',
    style: { dates: 'd/m/y' },
    spoil: (rows) => {
      const [row] = rows;
      if (row) row[0] = '14/12/2026';
      return [{ line: 2, says: /future/ }];
    },
  }),
  ...(['d.m.y', 'd Mon y', 'a day number', 'm/d/y'] as const).map((way) =>
    make({
      name: `a vehicle a row, dates as ${way}`,
      style: { dates: way, layout: 'a vehicle a row', wheel: WHEELS.L1 },
    }),
  ),
];

const odometers: Case[] = [
  ...(
    [
      [',', 'commas'],
      [' ', 'spaces'],
      ['.', 'dots'],
      ['\u00a0', 'no-break spaces'],
    ] as const
  ).flatMap(([sign, named]) => [
    make({ name: `miles in thousands with ${named}`, style: { odometer: grouped(sign) } }),
    make({
      name: `kilometres in thousands with ${named}, decimal commas`,
      style: { ...KM, ...COMMAS, odometer: grouped(sign) },
      paper: SEMICOLONS,
    }),
    make({
      name: `thousands with ${named}, figures of whole 32nds`,
      style: { odometer: grouped(sign), thickness: '11', thicknessHead: ' 32nds' },
    }),
  ]),
  make({ name: 'a bare odometer in miles', style: { heads: ['Date', 'Unit', 'Odometer'] } }),
  make({ name: 'a bare odometer in kilometres', style: { distance: 'km', heads: ['Date', 'Unit', 'Odometer'] } }),
  make({
    name: 'a bare odometer with its unit in the cells',
    style: { distance: 'km', heads: ['Date', 'Unit', 'Odo'], odometer: (figure) => `${figure} km` },
  }),
  ...(['mi', 'km'] as const).map((distance) =>
    make({
      name: `a bare odometer in ${distance} that goes with neither pace`,
      style: { distance, heads: ['Date', 'Unit', 'Odometer'] },
      units: ['V1'],
      looks: { steps: { distance, thickness: 'mm' }, pace: distance === 'mi' ? 280 : 10 },
      asks: ['distanceUnit'],
      answers: { distanceUnit: distance },
    }),
  ),
  make({
    name: 'a header of miles over kilometres',
    style: { distance: 'km', heads: ['Date', 'Unit', 'Miles'] },
    asks: ['distanceUnit'],
    answers: { distanceUnit: 'km' },
  }),
];

const thicknesses: Case[] = [
  ...(['8,5', '8.500', '8,500', '8.5 mm', '11/32', '11/32"', '0.34 in'] as const).map((way) =>
    make({ name: `thickness as ${way}`, style: { thickness: way, thicknessHead: '' } }),
  ),
  make({ name: 'thickness as 0.34, header of inches', style: { thickness: '0.34', thicknessHead: ' inches' } }),
  make({
    name: 'thickness as .34, header of none',
    style: { thickness: '.34', thicknessHead: '' },
    units: VANS,
    asks: [],
  }),
  make({
    name: 'whole figures of 32nds, header of none',
    style: { thickness: '11', thicknessHead: '' },
    units: VANS,
    asks: ['thicknessUnit'],
    answers: { thicknessUnit: '1/32 in' },
  }),
  make({ name: 'whole figures of 32nds, header of 32nds', style: { thickness: '11', thicknessHead: ' 1/32 in' } }),
  make({
    name: 'whole figures of 32nds, unit in a column',
    style: { thickness: '11', thicknessHead: '', layout: 'a pad a row', beside: ['unit of thickness'] },
  }),
  make({
    name: 'mm, unit in a column',
    style: { thicknessHead: '', layout: 'a pad a row', beside: ['unit of thickness'] },
  }),
  make({
    name: 'fractions with a plain figure of mm among them',
    style: { thickness: '11/32', thicknessHead: '' },
    units: VANS,
    asks: ['thicknessUnit'],
    answers: { thicknessUnit: 'mm' },
    spoil: (rows) => {
      const [row] = rows;
      if (row) row[4] = ((Number.parseInt(row[4] ?? '0', 10) / 32) * 25.4 || 8.6).toFixed(2);
      return [];
    },
  }),
  make({
    name: 'a blank, a word and an impossible figure',
    spoil: (rows) => {
      (rows[0] ?? [])[4] = '';
      (rows[1] ?? [])[5] = 'n/a';
      (rows[2] ?? [])[6] = '85';
      return [
        { line: 2, says: /blank/, keeps: true },
        { line: 3, says: /not a thickness/, keeps: true },
        { line: 4, says: /decimal mark missing/, keeps: true },
      ];
    },
  }),
];

const wheels: Case[] = [
  ...(['LF', 'FL', 'L1', 'left front', 'Rad vorne links', 'axle 1 left'] as const).flatMap((way) =>
    (['a wheel a row', 'a wheel a row, pad in a column', 'a vehicle a row'] as const).map((layout) =>
      make({ name: `wheels as ${way}, ${layout}`, style: { layout, wheel: WHEELS[way], thicknessHead: '' } }),
    ),
  ),
  make({
    name: 'near side and off side, which depend on the country',
    style: { layout: 'a wheel a row', wheel: WHEELS.NSF },
    asks: ['wheel'],
    answers: { 'wheel NSF': '1:left', 'wheel OSF': '1:right', 'wheel NSR': 'rear:left', 'wheel OSR': 'rear:right' },
  }),
  make({
    name: 'rear of a vehicle of three axles',
    style: { layout: 'a wheel a row', wheel: WHEELS.LF },
    units: ['T1'],
    looks: { looks: 1, steps: { distance: 'mi', thickness: 'mm' } },
    spoil: () => [4, 5, 6, 7].map((line) => ({ line, says: /does not say which/ })),
  }),
  make({
    name: 'one wheel of a name nobody knows',
    style: { layout: 'a wheel a row', wheel: WHEELS.L1 },
    spoil: (rows) => {
      (rows[0] ?? [])[3] = 'LFF';
      return [{ line: 2, says: /not a wheel name/ }];
    },
  }),
];

const papers: Case[] = [
  ...(['utf-8 with mark', 'utf-16le', 'utf-16be', 'utf-16le without mark', 'latin-1'] as const).map((encoding) =>
    make({
      name: `in ${encoding}`,
      paper: { encoding, ...SEMICOLONS },
      style: { ...KM, ...COMMAS, dates: 'd. Monat y' },
    }),
  ),
  ...(['\r\n', '\r'] as const).map((newline) =>
    make({ name: `lines ended by ${JSON.stringify(newline)}`, paper: { newline } }),
  ),
  ...([';', '\t', '|'] as const).map((delimiter) =>
    make({ name: `cells parted by ${JSON.stringify(delimiter)}`, paper: { delimiter } }),
  ),
  make({ name: 'a line that tells the delimiter', paper: { toldDelimiter: true, ...SEMICOLONS }, style: COMMAS }),
  make({ name: 'a title above', paper: { above: TITLE } }),
  make({
    name: 'a title above, a vehicle a row, decimal commas',
    paper: { above: TITLE, ...SEMICOLONS },
    style: { ...COMMAS, layout: 'a vehicle a row', wheel: WHEELS.L1, thicknessHead: '' },
  }),
  make({
    name: 'a header of two lines',
    paper: { header: 'two lines' },
    style: { layout: 'a vehicle a row', wheel: WHEELS.LF, thicknessHead: '' },
  }),
  make({
    name: 'a title and a header of two lines',
    paper: { header: 'two lines', above: TITLE },
    style: { layout: 'a vehicle a row', wheel: WHEELS.LF, thicknessHead: '' },
  }),
  make({ name: 'units under the header', paper: { header: 'units in a second line' }, style: KM }),
  make({
    name: 'no header',
    paper: { header: 'none' },
    asks: ['column'],
    answers: { columns: 'date,unit,odometer,axle,left_inner,left_outer,right_inner,right_outer' },
  }),
  make({ name: 'totals at the end', paper: { among: ['totals'] } }),
  make({ name: 'blank lines and the header again', paper: { among: ['blank lines', 'the header again'] } }),
  make({ name: 'a technician in each row', style: { beside: ['technician'] } }),
  make({
    name: 'a technician in each row, his initial without its dot',
    style: { beside: ['technician'], technicianName: (name) => name.replace('Rowan', 'R') },
    asks: ['person'],
    answers: { 'person R Peake': 'Rowan Peake' },
  }),
  make({ name: 'two columns of notes', style: { beside: ['notes'] } }),
  make({ name: 'a column nobody reads', style: { beside: ['nothing of ours'] } }),
  make({
    name: 'units in lower case with spaces',
    spoil: (rows) => {
      for (const row of rows) row[1] = ` ${(row[1] ?? '').toLowerCase()} `;
      return [];
    },
  }),
  make({
    name: 'a unit that is not on record',
    spoil: (rows) => {
      (rows[0] ?? [])[1] = 'V99';
      return [{ line: 2, says: /no vehicle V99/ }];
    },
  }),
  make({
    name: 'a row with more cells than the header',
    spoil: (rows) => {
      rows[0]?.push('5');
      return [{ line: 2, says: /9 cells/ }];
    },
  }),
  ...['a workbook', 'a workbook with a title'].map((name) =>
    make({ name, workbook: true, paper: name.endsWith('title') ? { above: TITLE } : {} }),
  ),
  make({
    name: 'a workbook, a vehicle a row, two lines of header',
    workbook: true,
    paper: { header: 'two lines' },
    style: { layout: 'a vehicle a row', wheel: WHEELS.LF, thicknessHead: '' },
  }),
  make({ name: 'a workbook with dates as text', workbook: true, style: { dates: 'd/m/y' } }),
  make({ name: 'a workbook with dates as day numbers', workbook: true, style: { dates: 'a day number' } }),
  make({ name: 'a workbook with decimal commas as text', workbook: true, style: COMMAS }),
];

/** Files of named kinds of fault and oddity. */
export const CASES: readonly Case[] = [...dates, ...odometers, ...thicknesses, ...wheels, ...papers];
