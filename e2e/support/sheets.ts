import type { Page } from '@playwright/test';

/** Checks of the first days of November of vans and pickups in the demo, as a night shift might have kept them. */
export interface Check {
  unit: string;
  day: number;
  miles: number;
  mm: number;
}

/** What the last readings on record make likely: the odometer some days on, and pads a little thinner. */
export async function checksOf(page: Page, url: string, units: readonly string[]): Promise<Check[]> {
  const csv = await (await page.request.get(`${url}/api/readings.csv`)).text();
  const [header = [], ...rows] = csv.split('\n').map((line) => line.split(','));
  const at = (cells: string[], name: string) => cells[header.indexOf(name)] ?? '';
  return units.map((unit, index) => {
    const points = rows
      .filter((cells) => at(cells, 'unit') === unit)
      .map((cells) => ({
        day: Date.parse(at(cells, 'date')) / 86_400_000,
        miles: Number(at(cells, 'odometer_mi')),
        mm: Number(at(cells, 'thickness_mm')),
      }))
      .sort((a, b) => a.day - b.day);
    const day = 3 + (index % 6);
    const then = Date.parse(`2026-11-0${day}`) / 86_400_000;
    const [first] = points;
    const before = points.filter((point) => point.day < then).at(-1);
    if (!first || !before) throw new Error(`${unit} was never measured.`);
    // On the way to the next look on record, or at the pace of all looks so far.
    const after = points.find((point) => point.day > then);
    const [from, to] = after ? [before, after] : [first, before];
    const miles = Math.round(before.miles + ((to.miles - from.miles) / (to.day - from.day)) * (then - before.day));
    const { mm } = before;
    return { unit, day, miles, mm };
  });
}

const PADS = ['LF', 'RF', 'LR', 'RR'].flatMap((wheel) => ['in', 'out'].map((pad) => [wheel, pad] as const));

/** A row a vehicle under a title, the wheel over its pads; dates that two orders fit, an odometer that tells no unit. */
export function yardSheet(checks: readonly Check[]): string {
  const lines = [
    ['Brake checks of November'],
    ['Hill depot', 'kept by the night shift'],
    ['Date', 'Unit', 'Odometer', ...PADS.map(([wheel], index) => (index % 2 === 0 ? wheel : '')), 'Remarks'],
    ['', '', '', ...PADS.map(([, pad]) => pad), ''],
    ...checks.map(({ unit, day, miles, mm }) => [`11/${day}/26`, unit, miles, ...PADS.map(() => mm.toFixed(1)), '']),
    ['Total', checks.length],
  ];
  return lines.map((cells) => [...cells, ...Array<string>(12 - cells.length).fill('')].join(',')).join('\n');
}

/** A row a wheel, by words of near side and off side, with who measured in a column and whole figures without a unit. */
export function nearSideSheet(checks: readonly Check[], technician: string): string {
  const rows = checks.flatMap(({ unit, day, miles }) =>
    ['NSF', 'OSF', 'NSR', 'OSR'].map((wheel) =>
      [`2026-11-0${day}`, unit.toLowerCase(), Math.round(miles * 1.609344), wheel, 10, 11, technician].join(';'),
    ),
  );
  return ['Date;Vehicle;km;Wheel;Inner;Outer;Technician', ...rows].join('\n');
}

/** A workbook’s cells: dates as dates, figures as figures, a title above. */
export function workbookRows(checks: readonly Check[]) {
  const text = (value: string) => ({ value, type: String });
  return [
    [text('Checks of the vans')],
    ['Date', 'Unit', 'Miles', 'Axle', 'Left inner', 'Left outer', 'Right inner', 'Right outer'].map(text),
    ...checks.map(({ unit, day, miles, mm }) => [
      { value: new Date(Date.UTC(2026, 10, day)), type: Date, format: 'dd/mm/yyyy' },
      text(unit),
      ...[miles, 1, mm, mm, mm, mm].map((value) => ({ value, type: Number })),
    ]),
  ];
}
