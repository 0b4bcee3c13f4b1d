import { type Case, make } from './cases.ts';
import { seeded } from './fleet.ts';
import { DATES, grouped, type Style, THICKNESSES, WHEELS } from './style.ts';

const ORDERS: Partial<Record<keyof typeof DATES, string>> = {
  'm/d/y': 'MDY',
  'm/d/yy': 'MDY',
  'm/d/y with am': 'MDY',
  'yy/m/d': 'YMD',
};
const MARKS: Partial<Record<keyof typeof THICKNESSES, string>> = { '11': '1/32 in', '0.34': 'in', '.34': 'in' };

/** A sheet whose every choice was drawn: what nobody thought of beside what. */
export function randomCase(seed: number): Case {
  const random = seeded(seed * 7919 + 17);
  for (let skip = 0; skip < 5; skip += 1) random();
  const one = <T>(things: readonly T[]): T => things[Math.floor(random() * things.length)] as T;
  const distance = one(['mi', 'km'] as const);
  const dates = one(Object.keys(DATES) as (keyof typeof DATES)[]);
  const thickness = one(Object.keys(THICKNESSES) as (keyof typeof THICKNESSES)[]);
  const layout = one([
    'a pad a row',
    'a wheel a row',
    'an axle a row',
    'a vehicle a row',
    'a wheel a row, pad in a column',
  ] as const);
  const way = one(['LF', 'FL', 'L1', 'left front', 'Rad vorne links', 'axle 1 left'] as const);
  const told = one([true, false]);
  const style: Partial<Style> = {
    distance,
    dates,
    thickness,
    layout,
    wheel: WHEELS[way],
    heads: one([
      ['Date', 'Unit', told ? (distance === 'mi' ? 'Miles' : 'Odometer (km)') : 'Odometer'],
      ['day', 'TRUCK', told ? `mileage ${distance}` : 'ODO'],
      ['Measured on', 'Fleet no.', told ? `Odometer [${distance}]` : 'Odometer reading'],
    ]),
    odometer: one([String, grouped(','), grouped(' '), grouped('.')]),
    thicknessHead: MARKS[thickness] && random() < 0.5 ? ` ${MARKS[thickness] === 'in' ? 'inches' : '1/32 in'}` : '',
    beside: one([[], ['technician'], ['notes'], ['nothing of ours', 'technician']] as const).slice(),
  };
  return make({
    name: `${seed}: ${layout}, ${way}, ${dates}, ${thickness}, ${distance}${told ? '' : ' untold'}`,
    style,
    paper: {
      delimiter: one([',', ';', '\t', '|']),
      newline: one(['\n', '\r\n', '\r']),
      encoding: one(['utf-8', 'utf-8 with mark', 'utf-16le', 'utf-16be', 'latin-1']),
      above: one([[], [['Checks of the year']], [['Brakes'], [], ['Yard', 'North', '2026']]]),
      among: one([[], ['totals'], ['blank lines'], ['the header again', 'totals']] as const).slice(),
    },
    workbook: random() < 0.2,
    seed: seed + 1,
    // What may be asked where chance left nothing to decide it by.
    asks: ['thicknessUnit', 'dateOrder', 'distanceUnit'],
    answers: {
      dateOrder: ORDERS[dates] ?? 'DMY',
      distanceUnit: distance,
      thicknessUnit: MARKS[thickness] ?? 'mm',
    },
  });
}
