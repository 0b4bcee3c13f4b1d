import { pitchDiameter, stressArea, stressDiameter, type Thread } from './thread.ts';

/** Strength of a fastener: metric property class, or inch grade. */
export type Strength = '8.8' | '10.9' | '12.9' | 'grade 5' | 'grade 8';

/**
 * Yield strength, MPa. Source: ISO 898-1 (Rp0.2; 8.8 up to M16) and SAE J429 (92 and 130 ksi), from memory.
 */
const YIELD_MPA: Record<Strength, number> = {
  '8.8': 640,
  '10.9': 940,
  '12.9': 1100,
  'grade 5': 634,
  'grade 8': 896,
};

/**
 * Torque that uses a fastener to 90 % of its yield strength, N·m.
 *
 * M = F (0.159 P + 0.577 d2 µ + 0.65 d µ), with the preload F = 0.9 Rp As ÷ √(1 + 3 [1.5 (d2/ds)(P/(π d2) + 1.155 µ)]²):
 * the tension is that which, with the twist of tightening, comes to 90 % of yield. The mean bearing diameter of the
 * head is taken as 1.3 d. Source: VDI 2230-1, equations of the assembly preload and torque, from memory.
 *
 * @param thread the thread
 * @param strength property class or grade
 * @param friction of thread and head alike, between about 0.08 (greased) and 0.2 (dry)
 * @example tighteningTorque(M10, '8.8', 0.12) is about 48 N·m (VDI 2230 table: 46 to 49, from memory)
 */
export function tighteningTorque(thread: Thread, strength: Strength, friction: number): number {
  const d2 = pitchDiameter(thread);
  const twist = 1.5 * (d2 / stressDiameter(thread)) * (thread.pitchMm / (Math.PI * d2) + 1.155 * friction);
  const preload = (0.9 * YIELD_MPA[strength] * stressArea(thread)) / Math.sqrt(1 + 3 * twist * twist);
  const arm = 0.159 * thread.pitchMm + 0.577 * d2 * friction + 0.65 * thread.diameterMm * friction;
  return (preload * arm) / 1000;
}

/** How far below what the weakest usual fastener takes, or above the strongest, a torque is questioned. */
const FAR_BELOW = 0.25;
const FAR_BELOW_OWN_CLASS = 0.5;
/** Hollow screws (bleeders, hose joints) and what they turn into hold far less. */
const FAR_BELOW_HOLLOW = 0.05;
const FAR_ABOVE = 1.25;

/**
 * The range in which torques of a fastener usually lie, N·m; outside it a figure is questioned, not refused.
 *
 * From a quarter of what the weakest usual class takes greased (screws into soft metal) to a quarter over what the
 * strongest takes dry. Where the class is known, from half to a quarter over its own.
 *
 * @param hollow for bleeders and hose joints
 */
export function usualTorque(
  thread: Thread,
  { strength, hollow = false }: { strength?: Strength | undefined; hollow?: boolean } = {},
): { leastNm: number; mostNm: number } {
  const metric = thread.system === 'metric';
  const weakest = strength ?? (metric ? '8.8' : 'grade 5');
  const strongest = strength ?? (metric ? '12.9' : 'grade 8');
  const below = hollow ? FAR_BELOW_HOLLOW : strength ? FAR_BELOW_OWN_CLASS : FAR_BELOW;
  return {
    leastNm: below * tighteningTorque(thread, weakest, 0.1),
    mostNm: FAR_ABOVE * tighteningTorque(thread, strongest, 0.2),
  };
}
