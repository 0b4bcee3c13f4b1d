import { METRES_PER_MILE, MM_PER_INCH } from '@mile-mark/core';
import type { Look, Place, Steps } from './fleet.ts';

/** How a person keeps a sheet: every choice that papers of this trade differ in. */
export interface Style extends Pick<Steps, 'distance'> {
  layout: 'a pad a row' | 'a wheel a row' | 'an axle a row' | 'a vehicle a row' | 'a wheel a row, pad in a column';
  dates: keyof typeof DATES;
  /** Headers of date, unit, odometer. */
  heads: [date: string, unit: string, odometer: string];
  odometer: (figure: number) => string;
  thickness: keyof typeof THICKNESSES;
  /** A unit behind the header of each thickness. */
  thicknessHead: string;
  wheel: (place: Omit<Place, 'pad'>) => string;
  /** Columns beside: technician, unit of thickness, notes and what nobody reads. */
  beside: ('technician' | 'unit of thickness' | 'notes' | 'nothing of ours')[];
  technicianName: (name: string) => string;
}

const two = (value: number) => String(value).padStart(2, '0');
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const MONATE = ['Jan.', 'Feb.', 'März', 'April', 'Mai', 'Juni', 'Juli', 'Aug.', 'Sept.', 'Okt.', 'Nov.', 'Dez.'];

/** Ways to write a date, from its numbers. */
export const DATES = {
  iso: (y: number, m: number, d: number) => `${y}-${two(m)}-${two(d)}`,
  'd.m.y': (y: number, m: number, d: number) => `${two(d)}.${two(m)}.${y}`,
  'd.m.yy': (y: number, m: number, d: number) => `${d}.${m}.${two(y % 100)}`,
  'm/d/y': (y: number, m: number, d: number) => `${m}/${d}/${y}`,
  'm/d/yy': (y: number, m: number, d: number) => `${m}/${d}/${two(y % 100)}`,
  'd/m/y': (y: number, m: number, d: number) => `${two(d)}/${two(m)}/${y}`,
  'd/m/yy': (y: number, m: number, d: number) => `${d}/${m}/${two(y % 100)}`,
  'yy/m/d': (y: number, m: number, d: number) => `${two(y % 100)}/${two(m)}/${two(d)}`,
  'd-m-y': (y: number, m: number, d: number) => `${two(d)}-${two(m)}-${y}`,
  'd Mon y': (y: number, m: number, d: number) => `${d} ${MONTHS[m - 1]} ${y}`,
  'Mon d, y': (y: number, m: number, d: number) => `${MONTHS[m - 1]} ${d}, ${y}`,
  'd-Mon-yy': (y: number, m: number, d: number) => `${d}-${MONTHS[m - 1]}-${two(y % 100)}`,
  'd. Monat y': (y: number, m: number, d: number) => `${d}. ${MONATE[m - 1]} ${y}`,
  'with a time': (y: number, m: number, d: number) => `${y}-${two(m)}-${two(d)} 07:45`,
  'with T and Z': (y: number, m: number, d: number) => `${y}-${two(m)}-${two(d)}T16:05:00Z`,
  'm/d/y with am': (y: number, m: number, d: number) => `${m}/${d}/${y} 7:45 AM`,
  'eight digits': (y: number, m: number, d: number) => `${y}${two(m)}${two(d)}`,
  'a day number': (y: number, m: number, d: number) => String(Date.UTC(y, m - 1, d) / 86_400_000 + 25_569),
};

const in32 = (mm: number) => Math.round((mm / MM_PER_INCH) * 32);
/** Ways to write a thickness, from mm. */
export const THICKNESSES = {
  '8.5': (mm: number) => mm.toFixed(1),
  '8,5': (mm: number) => mm.toFixed(1).replace('.', ','),
  '8.500': (mm: number) => mm.toFixed(3),
  '8,500': (mm: number) => mm.toFixed(3).replace('.', ','),
  '8.5 mm': (mm: number) => `${mm.toFixed(1)} mm`,
  '11/32': (mm: number) => `${in32(mm)}/32`,
  '11/32"': (mm: number) => `${in32(mm)}/32"`,
  '11': (mm: number) => String(in32(mm)),
  '0.34': (mm: number) => (mm / MM_PER_INCH).toFixed(2),
  '.34': (mm: number) => (mm / MM_PER_INCH).toFixed(2).replace(/^0/, ''),
  '0.34 in': (mm: number) => `${(mm / MM_PER_INCH).toFixed(2)} in`,
};

export const grouped = (sign: string) => (figure: number) => String(figure).replace(/\B(?=(\d{3})+$)/g, sign);

const letters = ({ axle, side }: Omit<Place, 'pad'>) => `${side === 'left' ? 'L' : 'R'}${axle}`;
const corner = ({ axle, side }: Omit<Place, 'pad'>) => `${side === 'left' ? 'L' : 'R'}${axle === 1 ? 'F' : 'R'}`;
/** Ways to name a wheel. */
export const WHEELS = {
  LF: corner,
  FL: (place: Omit<Place, 'pad'>) => [...corner(place)].reverse().join(''),
  L1: letters,
  'left front': ({ axle, side }: Omit<Place, 'pad'>) => `${side} ${axle === 1 ? 'front' : 'rear'}`,
  'Rad vorne links': ({ axle, side }: Omit<Place, 'pad'>) =>
    `Rad ${axle === 1 ? 'vorne' : 'hinten'} ${side === 'left' ? 'links' : 'rechts'}`,
  NSF: ({ axle, side }: Omit<Place, 'pad'>) => `${side === 'left' ? 'NS' : 'OS'}${axle === 1 ? 'F' : 'R'}`,
  'axle 1 left': ({ axle, side }: Omit<Place, 'pad'>) => `Axle ${axle} ${side}`,
};

export const PLAIN: Style = {
  distance: 'mi',
  thickness: '8.5',
  layout: 'an axle a row',
  dates: 'iso',
  heads: ['Date', 'Unit', 'Miles'],
  odometer: String,
  thicknessHead: ' mm',
  wheel: WHEELS.LF,
  beside: [],
  technicianName: (name) => name,
};

/** The step in which a way of writing tells a thickness. */
export function stepOfThickness(way: Style['thickness']): Steps['thickness'] {
  if (way.includes('/32') || way === '11') return '1/32 in';
  return way.includes('.34') ? 'in' : 'mm';
}

/** A sheet before it is a file: its header in one line or two, and a row of cells for what is written in it. */
export interface Written {
  header: string[][];
  rows: string[][];
}

/** Writes looks as a person of this style would. */
export function write(looks: readonly Look[], style: Style): Written {
  const unitOf = (head: string) => `${head}${style.thicknessHead}`;
  const wide = style.layout === 'a vehicle a row';
  const places = wide ? distinctPlaces(looks) : [];
  const own: Record<Style['layout'], string[]> = {
    'a pad a row': ['Axle', 'Side', 'Pad', unitOf('Thickness')],
    'a wheel a row': ['Wheel', unitOf('Inner'), unitOf('Outer')],
    'a wheel a row, pad in a column': ['Wheel', 'Pad', unitOf('Thickness')],
    'an axle a row': ['Axle', ...['Left inner', 'Left outer', 'Right inner', 'Right outer'].map(unitOf)],
    'a vehicle a row': places.map((place) => unitOf(`${style.wheel(place)} ${place.pad === 'inner' ? 'in' : 'out'}`)),
  };
  const rows = looks.flatMap((look) =>
    rowsOf(look, style, places).map((cells) => [...atHead(look, style), ...cells, ...atEnd(look, style)]),
  );
  return { header: [[...style.heads, ...own[style.layout], ...style.beside.flatMap((one) => BESIDE[one])]], rows };
}

const BESIDE: Record<Style['beside'][number], string[]> = {
  technician: ['Technician'],
  'unit of thickness': ['Unit of thickness'],
  notes: ['Notes', 'Remarks'],
  'nothing of ours': ['Tyre pressure'],
};

function atHead({ date, unit, miles }: Look, style: Style): string[] {
  const [y = 0, m = 0, d = 0] = date.split('-').map(Number);
  const figure = Math.round(style.distance === 'mi' ? miles : (miles * METRES_PER_MILE) / 1000);
  return [DATES[style.dates](y, m, d), unit, style.odometer(figure)];
}

function atEnd({ technician }: Look, style: Style): string[] {
  return style.beside.flatMap((one) => {
    if (one === 'technician') return [style.technicianName(technician)];
    if (one === 'unit of thickness')
      return [{ mm: 'mm', in: 'in', '1/32 in': '32nds' }[stepOfThickness(style.thickness)]];
    return one === 'notes' ? ['rotor lipped', 'heard at 20'] : ['55'];
  });
}

const same = (a: Place, b: Place) => a.axle === b.axle && a.side === b.side && a.pad === b.pad;
function distinctPlaces(looks: readonly Look[]): Place[] {
  const all = looks.flatMap(({ pads }) => pads);
  return all.filter((place, index) => all.findIndex((other) => same(place, other)) === index);
}

function rowsOf({ pads }: Look, style: Style, places: readonly Place[]): string[][] {
  const typed = (mm: number | undefined) => (mm === undefined ? '' : THICKNESSES[style.thickness](mm));
  const at = (place: Place) => typed(pads.find((one) => same(one, place))?.mm);
  const axles = [...new Set(pads.map(({ axle }) => axle))];
  const wheels = axles.flatMap((axle) => (['left', 'right'] as const).map((side) => ({ axle, side })));
  switch (style.layout) {
    case 'a vehicle a row':
      return [places.map(at)];
    case 'a pad a row':
      return pads.map(({ mm, axle, side, pad }) => [String(axle), side, pad, typed(mm)]);
    case 'a wheel a row, pad in a column':
      return pads.map(({ mm, pad, ...wheel }) => [style.wheel(wheel), pad, typed(mm)]);
    case 'a wheel a row':
      return wheels.map((wheel) => [
        style.wheel(wheel),
        at({ ...wheel, pad: 'inner' }),
        at({ ...wheel, pad: 'outer' }),
      ]);
    case 'an axle a row':
      return axles.map((axle) => [
        String(axle),
        ...(['left', 'right'] as const).flatMap((side) =>
          (['inner', 'outer'] as const).map((pad) => at({ axle, side, pad })),
        ),
      ]);
  }
}
