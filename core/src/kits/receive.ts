/** What of a part can be held against the old one with a caliper and by counting. */
export interface Measures {
  diameterMm?: number | undefined;
  heightMm?: number | undefined;
  thicknessMm?: number | undefined;
  holes?: number | undefined;
}

export interface Difference {
  measure: keyof Measures;
  expected: number;
  found: number;
}

/** What two readings of the same length may differ by, mm (common practice, no source). */
const TOLERANCE_MM: Record<Exclude<keyof Measures, 'holes'>, number> = {
  diameterMm: 1,
  heightMm: 0.5,
  thicknessMm: 0.3,
};

/** Where what came in differs from what the catalogue or the old part says: the wrong part, or the wrong axle's. */
export function differences(expected: Measures, found: Measures): Difference[] {
  const all: (keyof Measures)[] = ['diameterMm', 'heightMm', 'thicknessMm', 'holes'];
  return all.flatMap((measure) => {
    const [a, b] = [expected[measure], found[measure]];
    if (a === undefined || b === undefined) return [];
    const tolerance = measure === 'holes' ? 0 : TOLERANCE_MM[measure];
    return Math.abs(a - b) > tolerance + 1e-9 ? [{ measure, expected: a, found: b }] : [];
  });
}

/** How a receipt stands to its order's line. */
export type ReceiptFault =
  | { code: 'over'; ordered: number; before: number; units: number }
  | { code: 'expired'; expiresOn: string }
  | { code: 'no expiry' }
  | { code: 'differs'; differences: Difference[] };

/**
 * What stands against putting a receipt on the shelf.
 *
 * @param line units ordered and received before
 * @param today ISO day
 */
export function receiptFaults(
  line: { ordered: number; before: number; expires: boolean; measures: Measures },
  receipt: { units: number; expiresOn: string | undefined; measures: Measures },
  today: string,
): ReceiptFault[] {
  const faults: ReceiptFault[] = [];
  if (line.before + receipt.units > line.ordered)
    faults.push({ code: 'over', ordered: line.ordered, before: line.before, units: receipt.units });
  if (receipt.expiresOn !== undefined && receipt.expiresOn < today)
    faults.push({ code: 'expired', expiresOn: receipt.expiresOn });
  if (line.expires && receipt.expiresOn === undefined) faults.push({ code: 'no expiry' });
  const found = differences(line.measures, receipt.measures);
  if (found.length > 0) faults.push({ code: 'differs', differences: found });
  return faults;
}
