/** What was asked for: a unit on record, and its axle where one was said. */
export interface Asked {
  unit: string;
  axle: number | undefined;
}

/**
 * Reads what is typed to look a sheet up: `P06`, `p06 2`, `P06/2`, `T 01 axle 3`.
 *
 * @param units unit numbers on record
 * @returns what was asked for, or undefined where no unit is meant
 */
export function parseAsked(typed: string, units: ReadonlySet<string>): Asked | undefined {
  const text = typed.trim().replace(/\s+/g, ' ').toUpperCase();
  if (units.has(text)) return { unit: text, axle: undefined };
  const split = /^(.+?) ?(?:\/|,| |AXLE) ?(?:AXLE ?)?([1-6])$/.exec(text);
  const unit = split?.[1]?.trim() ?? '';
  return split && units.has(unit) ? { unit, axle: Number(split[2]) } : undefined;
}
