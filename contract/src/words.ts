import { thicknessIn, type Suspicion, type ThicknessUnit } from '@mile-mark/core';

/** A thickness as a person of this unit reads it, with the unit: `8.5 mm`, `11/32 in`, `0.335 in`. */
export function thicknessInWords(mm: number, unit: ThicknessUnit): string {
  const figure = thicknessIn(mm, unit);
  if (unit === '1/32 in') return `${figure < 0 ? '−' : ''}${Math.round(Math.abs(figure))}/32 in`;
  return unit === 'in' ? `${figure.toFixed(3)} in` : `${figure.toFixed(1)} mm`;
}

/** A limit as a person of this unit reads it; in mm to the hundredth, as limits are stated. */
export function limitInWords(mm: number, unit: ThicknessUnit): string {
  return unit === 'mm' ? `${Number(mm.toFixed(2))} mm` : thicknessInWords(mm, 'in');
}

/**
 * A suspicion as a question to whoever measured, in their unit, without blame.
 *
 * @param unit the unit the person reads in
 */
export function suspicionInWords(suspicion: Suspicion, unit: ThicknessUnit): string {
  const size = thicknessInWords(Math.abs(suspicion.differenceMm), unit);
  const expected = thicknessInWords(Math.max(0, suspicion.expectedMm), unit);
  const instead = suspicion.insteadMm === undefined ? '' : thicknessInWords(suspicion.insteadMm, unit);
  const direction = suspicion.differenceMm > 0 ? 'thicker' : 'thinner';
  switch (suspicion.kind) {
    case 'plate':
      return `Reads ${size} thicker than expected (${expected}). Was the backing plate included? Without it: ${instead}.`;
    case 'sides':
      return `Left and right read the other way round than expected (${expected} here, ${instead} measured on the other side). Were the sides swapped?`;
    case 'inches':
      return `Reads ${size} ${direction} than expected (${expected}). Was it read in inches? Then it is ${instead}.`;
    case 'digits':
      return `Reads ${size} ${direction} than expected (${expected}). Were two digits swapped? Then it is ${instead}.`;
    case 'thicker_than_new':
      return `Thicker than a new pad: ${size} over what was expected (${expected}). Was something else measured along?`;
    case 'thicker_than_expected':
      return `Reads ${size} thicker than expected (${expected}) with no pads fitted since. Were pads changed, or is it another place?`;
    case 'thinner_than_expected':
      return `Reads ${size} thinner than expected (${expected}). If it is so, this pad wears faster than the others: measure it again.`;
  }
}

/** How evidence is told: "7 readings by 3 people". */
export function evidenceInWords(readings: number, people: number): string {
  return `${readings} ${readings === 1 ? 'reading' : 'readings'} by ${people} ${people === 1 ? 'person' : 'people'}`;
}
