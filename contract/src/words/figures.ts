import { METRES_PER_MILE, thicknessIn, type DistanceUnit, type ThicknessUnit } from '@mile-mark/core';
import { thicknessInWords } from './readings.ts';

/** In which units somebody reads. */
interface Reader {
  distanceUnit: DistanceUnit;
  thicknessUnit: ThicknessUnit;
}

const whole = new Intl.NumberFormat('en-US', { maximumFractionDigits: 0 });
const KM_PER_MILE = METRES_PER_MILE / 1000;

/** Miles in the reader's unit. */
function distanceIn(miles: number, unit: DistanceUnit): number {
  return unit === 'mi' ? miles : miles * KM_PER_MILE;
}

/** A whole figure without a sign where it rounds to nought. */
function wholeInWords(value: number): string {
  const text = whole.format(Math.abs(value));
  return value < 0 && text !== '0' ? `−${text}` : text;
}

/** Miles as the person reads distances, with the unit: `41,200 mi`, `66,305 km`. */
export function milesInWords(miles: number, unit: DistanceUnit): string {
  return `${wholeInWords(distanceIn(miles, unit))} ${unit}`;
}

/** Miles with a half-width, both in the reader's unit: `217 ± 29 km`. */
export function milesSpreadInWords(miles: number, half: number, unit: DistanceUnit): string {
  return `${wholeInWords(distanceIn(miles, unit))} ± ${wholeInWords(distanceIn(half, unit))} ${unit}`;
}

/** A thickness without its unit, as fine as the unit is read. */
function thicknessFigure(mm: number, unit: ThicknessUnit): string {
  const figure = Math.abs(thicknessIn(mm, unit));
  return unit === '1/32 in' ? figure.toFixed(1).replace(/\.0$/, '') : figure.toFixed(unit === 'in' ? 3 : 1);
}

/** A thickness with a half-width, both in the reader's unit: `8.5 ± 0.3 mm`, `11 ± 0.4 /32 in`, `0.335 ± 0.012 in`. */
export function thicknessSpreadInWords(mm: number, half: number, unit: ThicknessUnit): string {
  const least = thicknessFigure(half, unit);
  if (unit === '1/32 in') return `${Math.round(thicknessIn(mm, unit))}/32 in ± ${least}/32`;
  return `${thicknessInWords(mm, unit).replace(/ .*/, '')} ± ${least} ${unit}`;
}

/** A small length (runout, variation, bias), in mm to the hundredth or in inches to the ten-thousandth. */
export function fineInWords(mm: number, unit: ThicknessUnit): string {
  return unit === 'mm' ? `${mm.toFixed(2)} mm` : `${thicknessIn(mm, 'in').toFixed(4)} in`;
}

/** A small length with a half-width: `0.12 ± 0.05 mm`. */
export function fineSpreadInWords(mm: number, half: number, unit: ThicknessUnit): string {
  return `${fineInWords(mm, unit).replace(/ .*/, '')} ± ${fineInWords(half, unit)}`;
}

/** Wear over a distance, both in the reader's units: `0.24 mm per 1,000 mi`, `0.19/32 in per 1,000 km`. */
export function rateInWords(mmPer1000Mi: number, { distanceUnit, thicknessUnit }: Reader): string {
  const figure = thicknessIn(mmPer1000Mi, thicknessUnit) / (distanceUnit === 'mi' ? 1 : KM_PER_MILE);
  const thickness =
    thicknessUnit === '1/32 in'
      ? `${figure.toFixed(2)}/32 in`
      : `${figure.toFixed(thicknessUnit === 'in' ? 4 : 2)} ${thicknessUnit}`;
  return `${thickness} per 1,000 ${distanceUnit}`;
}

/** Wear with the range it lies in, both in the reader's units: `0.27 (0.24 to 0.29) mm per 1,000 mi`. */
export function rateRangeInWords(
  { value, low, high }: Record<'value' | 'low' | 'high', number>,
  reader: Reader,
): string {
  const [figure = '', ...unit] = rateInWords(value, reader).split(/(?<=\d)(?=[ /])/);
  const bare = (rate: number) => rateInWords(rate, reader).split(/(?<=\d)(?=[ /])/)[0] ?? '';
  return `${figure} (${bare(low)} to ${bare(high)})${unit.join('').startsWith('/') ? ' ' : ''}${unit.join('')}`;
}

/** A speed, given in mph, as the person reads distances: `35 mph`, `56 km/h`. */
export function speedInWords(mph: number, unit: DistanceUnit): string {
  return `${wholeInWords(distanceIn(mph, unit))} ${unit === 'mi' ? 'mph' : 'km/h'}`;
}

/** What comes by the mile, in the reader's distance: `1,210 kJ a mile`, `752 kJ a km`; digits after the point are few. */
export function perDistanceInWords(perMile: number, what: string, unit: DistanceUnit): string {
  const figure = unit === 'mi' ? perMile : perMile / KM_PER_MILE;
  const text = new Intl.NumberFormat('en-US', { maximumFractionDigits: Math.abs(figure) < 20 ? 2 : 0 }).format(figure);
  return `${text} ${what} a ${unit === 'mi' ? 'mile' : 'km'}`;
}

/** A count with its word: `1 record`, `3 records`. */
export function countInWords(count: number, one: string, several = `${one}s`): string {
  return `${whole.format(count)} ${count === 1 ? one : several}`;
}

/** A chance as per cent; small ones as a bound, never as nought; never rounded over another it is compared with. */
export function chanceInWords(probability: number): string {
  if (probability < 0.001) return 'under 0.1 %';
  if (probability > 0.999) return 'over 99.9 %';
  return `${probability < 0.1 ? (probability * 100).toFixed(1) : Math.round(probability * 100)} %`;
}
