import {
  fineInWords,
  fineSpreadInWords,
  limitInWords,
  milesInWords,
  perDistanceInWords,
  rateInWords,
  speedInWords,
  thicknessInWords,
  thicknessSpreadInWords,
} from '@mile-mark/contract/words';
import { thicknessIn } from '@mile-mark/core';
import { useMe } from './people.ts';

/** How the person signed in reads figures: every one in their units, from the one set of formatters. */
export function useReader() {
  const { distanceUnit, thicknessUnit } = useMe();
  const reader = { distanceUnit, thicknessUnit };
  const fineIn = (mm: number) => (thicknessUnit === 'mm' ? mm : thicknessIn(mm, 'in'));
  return {
    ...reader,
    /** Unit of small lengths and rotors, which nobody reads in 32nds. */
    fineUnit: thicknessUnit === 'mm' ? ('mm' as const) : ('in' as const),
    miles: (miles: number) => milesInWords(miles, distanceUnit),
    thickness: (mm: number) => thicknessInWords(mm, thicknessUnit),
    spread: (mm: number, half: number) => thicknessSpreadInWords(mm, half, thicknessUnit),
    rotorSpread: (mm: number, half: number) => thicknessSpreadInWords(mm, half, thicknessUnit === 'mm' ? 'mm' : 'in'),
    limit: (mm: number) => limitInWords(mm, thicknessUnit),
    /** A small length as a bare figure of `fineUnit`, where the unit stands in the heading. */
    fineFigure: (mm: number, digits: number) =>
      fineIn(mm)
        .toFixed(digits + (thicknessUnit === 'mm' ? 0 : 1))
        .replace('-', '−'),
    fineIn,
    fine: (mm: number) => fineInWords(mm, thicknessUnit),
    fineSpread: (mm: number, half: number) => fineSpreadInWords(mm, half, thicknessUnit),
    speed: (mph: number) => speedInWords(mph, distanceUnit),
    /** What comes by the mile: `per(1210, 'kJ')` is `1,210 kJ a mile`. */
    per: (perMile: number, what: string) => perDistanceInWords(perMile, what, distanceUnit),
    rate: (mmPer1000Mi: number) => rateInWords(mmPer1000Mi, reader),
  };
}
