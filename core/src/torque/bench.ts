import { torqueIn, torqueToNm, type TorqueUnit } from '../units/index.ts';
import { parseHead, type HeadKind } from './head.ts';
import { targetNm, type JointTorque } from './joint.ts';
import { adapterSetting, multiplierSetting } from './leverage.ts';

/** A torque wrench; figures in its own unit. */
export interface TorqueWrench {
  id: string;
  name: string;
  unit: TorqueUnit;
  least: number;
  most: number;
  /** The least step it can be set to or read. */
  graduation: number;
  /** From the middle of the grip to the middle of the drive, mm; null where nobody measured it. */
  lengthMm: number | null;
  /** ISO date; null where no calibration is on record. */
  calibrationDue: string | null;
}

/** An adapter in line, such as an open end on an arm. */
export interface TorqueAdapter {
  id: string;
  name: string;
  extensionMm: number;
  mostNm: number;
  /** The size of its own end, e.g. `21 mm` of an open end on a hexagon; null where it ends in a square for any socket. */
  endSize: string | null;
}

/** A torque multiplier. */
export interface TorqueMultiplier {
  id: string;
  name: string;
  ratio: number;
  mostNm: number;
  calibrationDue: string | null;
}

/** The torque tools of one yard. */
export interface Bench {
  wrenches: readonly TorqueWrench[];
  adapters: readonly TorqueAdapter[];
  multipliers: readonly TorqueMultiplier[];
}

/** A torque to be reached, N·m; least and most where the specification states them. */
export interface TorqueTarget {
  nm: number;
  leastNm: number | null;
  mostNm: number | null;
  /** What takes hold, as far as it is known: an adapter with an end of its own fits one hexagon only. */
  head?: { kind: HeadKind | null; size: string | null };
}

/** What to set, in the wrench's own unit and on its graduation. */
export interface Setting {
  value: number;
  unit: TorqueUnit;
}

/** Whether, and with what, a bench reaches a torque. */
export type TorqueFit =
  | { kind: 'wrench'; wrench: TorqueWrench; setting: Setting }
  | { kind: 'adapter'; wrench: TorqueWrench; adapter: TorqueAdapter; setting: Setting }
  | { kind: 'multiplier'; wrench: TorqueWrench; multiplier: TorqueMultiplier; setting: Setting }
  | { kind: 'overdue'; tool: { id: string; name: string }; due: string | null }
  | { kind: 'none'; need: TorqueNeed };

/** What would reach it: a wrench that ends at or over the torque and whose fifth lies at or under it, or a multiplier. */
export interface TorqueNeed {
  nm: number;
  /** Where the nearest wrench of the bench ends (or begins, where the torque is below them all), N·m. */
  endsNm: number | null;
  /** Least ratio with which a wrench of this bench would reach it; null where a multiplier is no help. */
  ratio: number | null;
  /** Where wrenches cover it but have no mark close enough: the finest of their graduations, N·m. */
  coarseNm: number | null;
  /**
   * The least that the specification states, where the bench's largest wrench ends short of the nominal but not short
   * of that, N·m: told, and never taken for reached.
   */
  allowedFromNm: number | null;
}

/** Calibrated range begins here as a share of full scale. Source: ISO 6789-1:2017, from memory. */
export const CALIBRATED_FROM = 0.2;
/** Permissible deviation of a setting where the specification states no range. Source: ISO 6789-1:2017, from memory. */
const DEVIATION = 0.04;

/** The range in which a wrench is calibrated, in its unit: from what it states, but from 20 % of full scale at least. */
export function calibratedRange({ least, most }: TorqueWrench): { least: number; most: number } {
  return { least: Math.max(least, CALIBRATED_FROM * most), most };
}

/**
 * The setting of a wrench for a torque at its drive, on its graduation; undefined where its calibrated range does not
 * reach, or where no mark of its scale is close enough. Never answered by setting to less.
 *
 * @param target at the wrench's own drive, N·m
 */
export function settingFor(wrench: TorqueWrench, target: TorqueTarget): Setting | undefined {
  const { least, most } = calibratedRange(wrench);
  const wanted = torqueIn(target.nm, wrench.unit);
  const value = Math.round(wanted / wrench.graduation) * wrench.graduation;
  const tidy = Number(value.toFixed(4));
  const slack = 1e-9 * most;
  if (wanted < least - slack || wanted > most + slack || tidy > most + slack) return undefined;
  const nm = torqueToNm(tidy, wrench.unit);
  const low = Math.min(target.nm, target.leastNm ?? target.nm * (1 - DEVIATION));
  const high = Math.max(target.nm, target.mostNm ?? target.nm * (1 + DEVIATION));
  return nm >= low * (1 - 1e-9) && nm <= high * (1 + 1e-9) ? { value: tidy, unit: wrench.unit } : undefined;
}

const scaled = ({ nm, leastNm, mostNm }: TorqueTarget, factor: number): TorqueTarget => ({
  nm: nm * factor,
  leastNm: leastNm === null ? null : leastNm * factor,
  mostNm: mostNm === null ? null : mostNm * factor,
});

/**
 * Whether a bench reaches a torque: with a wrench as it is, else with an adapter in line, else with a multiplier, each
 * in calibration. Of several wrenches that with the finest graduation is named. Where only a tool out of calibration
 * reaches, that is said; where none does, what is needed.
 *
 * @param today ISO date; a calibration due before it is overdue
 */
export function fitTorque(target: TorqueTarget, bench: Bench, today: string): TorqueFit {
  const current = ({ calibrationDue }: { calibrationDue: string | null }) =>
    calibrationDue !== null && calibrationDue >= today;
  const all = [...bench.wrenches].sort((a, b) => finerFirst(a, b));
  const strongestNm = Math.max(0, ...all.map(({ most, unit }) => torqueToNm(most, unit)));
  const inCalibration = { ...bench, wrenches: all.filter(current), multipliers: bench.multipliers.filter(current) };
  const fit = reach(target, inCalibration, strongestNm);
  if (fit) return fit;
  const late = reach(target, { ...bench, wrenches: all }, strongestNm);
  if (late) {
    const tool = late.kind === 'multiplier' && current(late.wrench) ? late.multiplier : late.wrench;
    return { kind: 'overdue', tool: { id: tool.id, name: tool.name }, due: tool.calibrationDue };
  }
  return { kind: 'none', need: needOf(target, all.filter(current)) };
}

const graduationNm = ({ graduation, unit }: TorqueWrench) => torqueToNm(graduation, unit);
const finerFirst = (a: TorqueWrench, b: TorqueWrench) => graduationNm(a) - graduationNm(b);

type Reached = Extract<TorqueFit, { wrench: TorqueWrench }>;

/** @param strongestNm where the largest wrench of the bench ends; a multiplier is for torques beyond it */
function reach(
  target: TorqueTarget,
  { wrenches, adapters, multipliers }: Bench,
  strongestNm: number,
): Reached | undefined {
  for (const wrench of wrenches) {
    const setting = settingFor(wrench, target);
    if (setting) return { kind: 'wrench', wrench, setting };
  }
  for (const adapter of adapters)
    for (const wrench of wrenches) {
      if (wrench.lengthMm === null || adapter.mostNm < target.nm || !takesHold(adapter, target)) continue;
      const setting = settingFor(wrench, scaled(target, adapterSetting(1, wrench.lengthMm, adapter.extensionMm)));
      if (setting) return { kind: 'adapter', wrench, adapter, setting };
    }
  if (target.nm <= strongestNm) return undefined;
  for (const multiplier of multipliers)
    for (const wrench of wrenches) {
      if (multiplier.mostNm < target.nm) continue;
      const setting = settingFor(wrench, scaled(target, multiplierSetting(1, multiplier.ratio)));
      if (setting) return { kind: 'multiplier', wrench, multiplier, setting };
    }
  return undefined;
}

/** Whether an adapter fits the head: any, where it takes sockets, else the hexagon of its own size. */
function takesHold({ endSize }: TorqueAdapter, { head }: TorqueTarget): boolean {
  if (endSize === null) return true;
  const own = parseHead('hex', endSize);
  const asked = head?.kind === 'hex' && head.size !== null ? parseHead('hex', head.size) : undefined;
  return own !== undefined && asked !== undefined && Math.abs(own.acrossMm - asked.acrossMm) < 0.05;
}

function needOf({ nm, leastNm: allowed }: TorqueTarget, wrenches: readonly TorqueWrench[]): TorqueNeed {
  const ranges = wrenches.map((wrench) => {
    const { least, most } = calibratedRange(wrench);
    const [leastNm, mostNm] = [torqueToNm(least, wrench.unit), torqueToNm(most, wrench.unit)];
    return { leastNm, mostNm, stepNm: graduationNm(wrench) };
  });
  const need: TorqueNeed = { nm, endsNm: null, ratio: null, coarseNm: null, allowedFromNm: null };
  if (ranges.length === 0) return need;
  const covering = ranges.filter(({ leastNm, mostNm }) => leastNm <= nm && nm <= mostNm);
  if (covering.length > 0) return { ...need, coarseNm: Math.min(...covering.map(({ stepNm }) => stepNm)) };
  const strongest = Math.max(...ranges.map(({ mostNm }) => mostNm));
  if (strongest < nm) {
    const allowedFromNm = allowed !== null && strongest >= allowed ? allowed : null;
    return { ...need, endsNm: strongest, ratio: nm / strongest, allowedFromNm };
  }
  return { ...need, endsNm: Math.min(...ranges.map(({ leastNm }) => leastNm).filter((leastNm) => leastNm > nm)) };
}

/** Whether a fit is one that a job can be done with. */
export function isReached(fit: TorqueFit): boolean {
  return fit.kind !== 'none' && fit.kind !== 'overdue';
}

/** Of the torques of a joint that are not reached the highest; undefined where all are. */
export function hardestMiss(fits: readonly { nm: number; fit: TorqueFit }[]): TorqueFit | undefined {
  const misses = fits.filter(({ fit }) => !isReached(fit)).sort((a, b) => b.nm - a.nm);
  return misses[0]?.fit;
}

/** A torque in a unit other than its own, rounded to a graduation of that unit. */
export function roundedTorque(nm: number, unit: TorqueUnit, graduation: number): number {
  return Number((Math.round(torqueIn(nm, unit) / graduation) * graduation).toFixed(4));
}

/**
 * Whether a bench reaches every torque of a joint: its earlier passes, then the last. Empty where no torque is known.
 *
 * @param today ISO date
 * @param head what takes hold of the fastener
 */
export function fitJoint(
  torque: JointTorque | null,
  bench: Bench,
  today: string,
  head?: TorqueTarget['head'],
): { nm: number; fit: TorqueFit }[] {
  const nm = targetNm(torque);
  if (!torque || nm === undefined) return [];
  const inNm = (value: number | null) => (value === null ? null : torqueToNm(value, torque.unit));
  const hold = head ? { head } : {};
  const free = (pass: number) => ({ nm: torqueToNm(pass, torque.unit), leastNm: null, mostNm: null, ...hold });
  const targets = [...torque.passes.map(free), { nm, leastNm: inNm(torque.least), mostNm: inNm(torque.most), ...hold }];
  return targets.map((target) => ({ nm: target.nm, fit: fitTorque(target, bench, today) }));
}
