import { KG_PER_POUND } from '../units/index.ts';

/** How an axle is braked, as far as limits are concerned. */
export type BrakeKind = 'hydraulic' | 'air';

/** A rule for the least friction material, of a law or of the shop. */
export interface LimitRule {
  id: string;
  /** Whose rule it is: a jurisdiction, or the shop. */
  jurisdiction: string;
  authority: 'law' | 'policy';
  brake: BrakeKind;
  /** Rated mass the rule begins above, kg; undefined: every vehicle. */
  aboveGvwrKg?: number | undefined;
  /** Rated mass up to which it applies, kg; undefined: no upper end. */
  upToGvwrKg?: number | undefined;
  leastMm: number;
  /** Whether a pad of exactly `leastMm` passes. */
  equalityPasses: boolean;
  source: string;
  revision: string;
  checkedBy: string;
}

/** Rated mass over which a vehicle is generally a commercial motor vehicle: 10,000 lb (49 CFR 390.5, from memory). */
export const COMMERCIAL_GVWR_KG = 10_000 * KG_PER_POUND;

/** The shop's default margin: a quarter of the new thickness (common practice, no source). */
export const DEFAULT_MARGIN_SHARE = 0.25;

/**
 * The limits that ship with the product. Source: 49 CFR 393.47(d), from memory: air disc not less than
 * 3.2 mm (1/8 in; equality passes); hydraulic disc more than 1.6 mm (1/16 in; equality fails). They bind
 * commercial motor vehicles; for lighter ones the same figures are the shop's policy. Local codes and
 * licensed practice come first.
 */
export const SHIPPED_LIMITS: readonly LimitRule[] = [
  shipped('us-air', 'law', 'air', 3.2, true),
  shipped('us-hydraulic', 'law', 'hydraulic', 1.6, false),
  shipped('shop-air', 'policy', 'air', 3.2, true),
  shipped('shop-hydraulic', 'policy', 'hydraulic', 1.6, false),
];

function shipped(
  id: string,
  authority: LimitRule['authority'],
  brake: BrakeKind,
  leastMm: number,
  equalityPasses: boolean,
): LimitRule {
  const law = authority === 'law';
  return {
    id,
    jurisdiction: law ? 'US, commercial motor vehicles' : "Shop's policy, lighter vehicles",
    authority,
    brake,
    aboveGvwrKg: law ? COMMERCIAL_GVWR_KG : undefined,
    upToGvwrKg: law ? undefined : COMMERCIAL_GVWR_KG,
    leastMm,
    equalityPasses,
    source: law ? '49 CFR 393.47(d), from memory' : 'The figures of 49 CFR 393.47(d), taken as policy',
    revision: 'as remembered, unchecked',
    checkedBy: 'nobody yet',
  };
}

/** What of an axle and its vehicle decides which rules apply. */
export interface LimitSubject {
  brake: BrakeKind;
  gvwrKg: number;
  padNewMm: number;
  padMakerMinMm: number;
}

/** One figure that may rule a service limit, mm of friction material. */
export interface LimitCandidate {
  kind: 'law' | 'policy' | 'maker' | 'margin';
  leastMm: number;
  equalityPasses: boolean;
  /** In words: whose figure it is. */
  source: string;
}

/** The service limit of a pad, with every figure it was chosen from. */
export interface ServiceLimit {
  /** The service limit, mm of friction material. */
  limitMm: number;
  ruling: LimitCandidate;
  /** Every figure that was looked at, greatest first. */
  candidates: LimitCandidate[];
  /** The greatest limit of law that binds this vehicle, where there is one. */
  legal?: LimitCandidate | undefined;
}

/**
 * The service limit of an axle's pads: the largest of the legal limits that bind the vehicle, the shop's
 * policies, the maker's least thickness, and the shop's margin of new thickness.
 *
 * Where two are equal, the one whose equality fails rules (it is the stricter).
 *
 * @param rules legal and policy rules on record
 * @param marginShare the shop's margin as a share of new thickness (0 to 0.9)
 */
export function serviceLimit(
  subject: LimitSubject,
  rules: readonly LimitRule[],
  marginShare: number = DEFAULT_MARGIN_SHARE,
): ServiceLimit {
  const applying: LimitCandidate[] = rules
    .filter((rule) => ruleApplies(rule, subject))
    .map((rule) => ({
      kind: rule.authority,
      leastMm: rule.leastMm,
      equalityPasses: rule.equalityPasses,
      source: `${rule.jurisdiction}: ${rule.source}`,
    }));
  const maker: LimitCandidate = {
    kind: 'maker',
    leastMm: subject.padMakerMinMm,
    equalityPasses: true,
    source: "Maker's least thickness of this model",
  };
  const margin: LimitCandidate = {
    kind: 'margin',
    leastMm: marginShare * subject.padNewMm,
    equalityPasses: true,
    source: `Shop's margin: ${Math.round(marginShare * 100)} % of ${subject.padNewMm} mm new`,
  };
  const candidates = [maker, margin, ...applying].sort(
    (a, b) => b.leastMm - a.leastMm || Number(a.equalityPasses) - Number(b.equalityPasses),
  );
  const ruling = candidates[0] ?? maker;
  return { limitMm: ruling.leastMm, ruling, candidates, legal: candidates.find(({ kind }) => kind === 'law') };
}

/** Whether a rule binds a vehicle's axle. A rating of exactly the bound is still below it ("over 10,000 lb"). */
export function ruleApplies(rule: LimitRule, { brake, gvwrKg }: Pick<LimitSubject, 'brake' | 'gvwrKg'>): boolean {
  if (rule.brake !== brake) return false;
  if (rule.aboveGvwrKg !== undefined && gvwrKg <= rule.aboveGvwrKg) return false;
  return rule.upToGvwrKg === undefined || gvwrKg <= rule.upToGvwrKg;
}
