/** What lies in one place: a lot of a part in a bin. */
export interface Held {
  bin: string;
  lot: string | undefined;
  /** ISO day of the last day on which it may be used; undefined where it does not expire. */
  expiresOn: string | undefined;
  units: number;
}

/** Units taken from one place. */
export interface Take {
  bin: string;
  lot: string | undefined;
  units: number;
}

/**
 * From where to take: what expires first, then the fullest bin; nothing that has expired.
 *
 * @param today ISO day
 * @returns what to take, and how many are missing
 */
export function takeFrom(held: readonly Held[], units: number, today: string): { takes: Take[]; missing: number } {
  const usable = held
    .filter((one) => one.units > 0 && (one.expiresOn === undefined || one.expiresOn >= today))
    .sort((a, b) => order(a.expiresOn, b.expiresOn) || b.units - a.units || order(a.bin, b.bin));
  const takes: Take[] = [];
  let missing = units;
  for (const { bin, lot, units: there } of usable) {
    if (missing === 0) break;
    const taken = Math.min(there, missing);
    takes.push({ bin, lot, units: taken });
    missing -= taken;
  }
  return { takes, missing };
}

/** What never expires comes after what does. */
function order(a: string | undefined, b: string | undefined): number {
  if (a === b) return 0;
  if (a === undefined) return 1;
  if (b === undefined) return -1;
  return a < b ? -1 : 1;
}
