/** What can be done about an axle's rotors when pads are changed. */
export const ROTOR_OPTIONS = ['keep', 'scuff', 'machine', 'replace'] as const;
export type RotorOption = (typeof ROTOR_OPTIONS)[number];

/** The axle's thinner rotor and what the next pads will take from it, mm. */
export interface RotorNow {
  thicknessMm: number;
  newMm: number;
  discardMm: number;
  machineToMm: number | null;
  /** Rotor wear over the life of one set of pads. */
  wearPerPadsMm: number;
  /** What a cut takes from both faces together. */
  cutMm: number;
}

/** The shop's prices for both rotors of an axle, minor units; and what money costs, a share a year. */
export interface RotorPrices {
  scuff: number;
  machine: number;
  replace: number;
  discountPerYear: number;
}

/** Life of the pads that go on. */
export interface PadLife {
  miles: number;
  years: number;
}

/** Why an option can't be taken. */
export type RotorBar =
  'below discard' | 'ends below machine-to' | 'does not last the next pads' | 'face fails' | 'no machine-to';

export interface RotorAlternative {
  option: RotorOption;
  /** Undefined where it can be taken. */
  bar?: RotorBar | undefined;
  /** Thickness after it, mm. */
  thicknessMm: number;
  /** Present value of its cost over the next two sets of pads, by the mile, minor units; undefined without prices. */
  perMile?: number | undefined;
}

/** What is wrong with the faces: what a light scuff mends, and what only metal off or a new rotor does. */
export interface RotorFaces {
  glazed: boolean;
  /** Deep scores, hard spots, heavy lip, thickness variation over its limit. */
  bad: boolean;
  cracked: boolean;
}

/**
 * The alternatives for an axle's rotors, with the present value of their cost over the next two sets of pads, 2·L miles:
 *
 *     PV = price now + price at the next set / (1 + r)^years,   where at the next set a rotor that would not last is replaced
 *
 * A rotor is kept only above its discard after the next pads' wear, machined only if it ends at or above machine-to and
 * then lasts as long.
 */
export function rotorAlternatives(
  rotor: RotorNow,
  faces: RotorFaces,
  life: PadLife,
  prices: RotorPrices | undefined,
): RotorAlternative[] {
  return ROTOR_OPTIONS.map((option) => {
    const thicknessMm = after(option, rotor);
    const bar = barOf(option, thicknessMm, rotor, faces);
    const perMile = bar || !prices ? undefined : costPerMile(option, thicknessMm, { rotor, life, prices });
    return { option, thicknessMm, ...(bar ? { bar } : {}), ...(perMile === undefined ? {} : { perMile }) };
  });
}

function after(option: RotorOption, { thicknessMm, newMm, cutMm }: RotorNow): number {
  if (option === 'replace') return newMm;
  return option === 'machine' ? thicknessMm - cutMm : thicknessMm;
}

function barOf(option: RotorOption, thicknessMm: number, rotor: RotorNow, faces: RotorFaces): RotorBar | undefined {
  if (option === 'replace') return undefined;
  if (rotor.thicknessMm < rotor.discardMm) return 'below discard';
  if (faces.cracked) return 'face fails';
  if (option === 'machine') {
    if (rotor.machineToMm === null) return 'no machine-to';
    if (thicknessMm < rotor.machineToMm) return 'ends below machine-to';
  } else if (faces.bad || (option === 'keep' && faces.glazed)) return 'face fails';
  return thicknessMm - rotor.wearPerPadsMm < rotor.discardMm ? 'does not last the next pads' : undefined;
}

function costPerMile(
  option: RotorOption,
  thicknessMm: number,
  { rotor, life, prices }: { rotor: RotorNow; life: PadLife; prices: RotorPrices },
): number {
  const now = option === 'keep' ? 0 : prices[option];
  const lastsTwo = thicknessMm - 2 * rotor.wearPerPadsMm >= rotor.discardMm;
  const later = lastsTwo ? 0 : prices.replace / (1 + prices.discountPerYear) ** life.years;
  return (now + later) / (2 * life.miles);
}

/** The cheapest alternative that can be taken; where prices are not known, the one that takes least off. */
export function bestRotorOption(alternatives: readonly RotorAlternative[]): RotorAlternative {
  const open = alternatives.filter(({ bar }) => bar === undefined);
  const sorted = [...open].sort((a, b) => (a.perMile ?? 0) - (b.perMile ?? 0));
  // Replacing can always be done: it never has a bar.
  return (sorted[0] ?? alternatives.at(-1)) as RotorAlternative;
}
