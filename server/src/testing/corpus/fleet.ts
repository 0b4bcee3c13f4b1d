import { METRES_PER_MILE, MM_PER_INCH, type Pad, type Side } from '@mile-mark/core';

/** The truth of the corpus: what was measured, whatever paper it was written on afterwards. */

/** Lists of a small fleet of two- and three-axle vehicles, for the sheets to be about. */
export const CORPUS_LISTS = [
  `model,class,tare_kg,gvwr_kg,axle,brake,pad_new_mm,backing_plate_mm,pad_maker_min_mm,brake_share
Tolmer Van,van,2200,3500,1,hydraulic,12,6,2,0.65
Tolmer Van,van,2200,3500,2,hydraulic,11,5.5,2,0.35
Garrow Tanker,heavy,9000,26000,1,air disc,21,9,3,0.4
Garrow Tanker,heavy,9000,26000,2,air disc,21,9,3,0.3
Garrow Tanker,heavy,9000,26000,3,air disc,21,9,3,0.3
`,
  `duty,stops_per_mile,mph_before_stop,payload_share,descent_m_per_mile,retarder_share,towed_kg,miles_per_day
far rounds,1,30,0.5,5,0.1,0,100
`,
  `unit,model,depot,duty,duty_from,odometer_mi_at_start
V1,Tolmer Van,North yard,far rounds,2026-01-01,30000
V2,Tolmer Van,North yard,far rounds,2026-01-01,52000
V3,Tolmer Van,North yard,far rounds,2026-01-01,71500
T1,Garrow Tanker,North yard,far rounds,2026-01-01,88000
T2,Garrow Tanker,North yard,far rounds,2026-01-01,120400
`,
];

/** The day on which the corpus is read. */
export const CORPUS_TODAY = '2026-11-20';

export interface Place {
  axle: number;
  side: Side;
  pad: Pad;
}

/** One look at a vehicle as it was: what stood on its odometer, and the thickness at each pad measured. */
export interface Look {
  unit: string;
  date: string;
  miles: number;
  technician: string;
  pads: (Place & { mm: number })[];
}

/** How finely a sheet tells a distance and a thickness: what is true of it is true of its own figures. */
export interface Steps {
  distance: 'mi' | 'km';
  thickness: 'mm' | '1/32 in' | 'in';
}

const STARTS: Record<string, number> = { V1: 30_000, V2: 52_000, V3: 71_500, T1: 88_000, T2: 120_400 };

/** Numbers that look random and are the same each time (a linear congruence; constants of Numerical Recipes, from memory). */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => (state = (state * 1_664_525 + 1_013_904_223) >>> 0) / 2 ** 32;
}

const dayAfter = (start: string, days: number) =>
  new Date(Date.parse(`${start}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10);

/**
 * Looks at these vehicles, a month or so apart, as they could be: odometers rise by some hundred miles a day, pads wear.
 *
 * @param pace miles a day beside the hundred of the duty on record
 * @param days which day of the month a look falls on, where dates are to be undecidable
 */
export function looksAt(
  units: readonly string[],
  {
    seed = 1,
    looks = 4,
    steps,
    pace = 100,
    dayOfMonth,
  }: {
    seed?: number;
    looks?: number;
    steps: Steps;
    pace?: number;
    dayOfMonth?: (look: number) => number;
  },
): Look[] {
  const random = seeded(seed);
  return units.flatMap((unit) => {
    const axles = unit.startsWith('T') ? [1, 2, 3] : [1, 2];
    const places = axles.flatMap((axle) =>
      (['left', 'right'] as const).flatMap((side) => (['inner', 'outer'] as const).map((pad) => ({ axle, side, pad }))),
    );
    const fresh = new Map(places.map((place) => [place, (unit.startsWith('T') ? 17 : 8.9) + random()]));
    return Array.from({ length: looks }, (_, look): Look => {
      const month = String(3 + look * 2).padStart(2, '0');
      const day = dayOfMonth ? dayOfMonth(look) : 13 + Math.floor(random() * 15);
      const date = dayAfter(`2026-${month}-01`, day - 1);
      const days = (Date.parse(date) - Date.parse('2026-01-01')) / 86_400_000;
      return {
        unit,
        date,
        miles: stepOf((STARTS[unit] ?? 0) + days * pace, steps.distance),
        technician: look % 2 === 0 ? 'Ilse Brandt' : 'Rowan Peake',
        pads: places.map((place) => ({
          ...place,
          mm: thicknessStep((fresh.get(place) ?? 9) - (days / 330) * (2 + random() * 0.3), steps.thickness),
        })),
      };
    });
  });
}

const KM = 1000 / METRES_PER_MILE;
function stepOf(miles: number, unit: Steps['distance']): number {
  return unit === 'mi' ? Math.round(miles) : Math.round(miles / KM) * KM;
}

function thicknessStep(mm: number, unit: Steps['thickness']): number {
  if (unit === 'mm') return Math.round(mm * 10) / 10;
  const step = unit === 'in' ? MM_PER_INCH / 100 : MM_PER_INCH / 32;
  return Math.round(mm / step) * step;
}
