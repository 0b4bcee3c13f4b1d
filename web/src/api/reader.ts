import {
  fineInWords,
  fineSpreadInWords,
  limitInWords,
  milesInWords,
  rateInWords,
  thicknessInWords,
  thicknessSpreadInWords,
} from '@mile-mark/contract/words';
import { useMe } from './people.ts';

/** How the person signed in reads figures: every one in their units, from the one set of formatters. */
export function useReader() {
  const { distanceUnit, thicknessUnit } = useMe();
  const reader = { distanceUnit, thicknessUnit };
  return {
    ...reader,
    /** Unit of small lengths and rotors, which nobody reads in 32nds. */
    fineUnit: thicknessUnit === 'mm' ? ('mm' as const) : ('in' as const),
    miles: (miles: number) => milesInWords(miles, distanceUnit),
    thickness: (mm: number) => thicknessInWords(mm, thicknessUnit),
    spread: (mm: number, half: number) => thicknessSpreadInWords(mm, half, thicknessUnit),
    rotorSpread: (mm: number, half: number) => thicknessSpreadInWords(mm, half, thicknessUnit === 'mm' ? 'mm' : 'in'),
    limit: (mm: number) => limitInWords(mm, thicknessUnit),
    fine: (mm: number) => fineInWords(mm, thicknessUnit),
    fineSpread: (mm: number, half: number) => fineSpreadInWords(mm, half, thicknessUnit),
    rate: (mmPer1000Mi: number) => rateInWords(mmPer1000Mi, reader),
  };
}
