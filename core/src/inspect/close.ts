import type { Pad, Side } from '../measure/index.ts';
import type { CardStep } from './card.ts';

/** What of a job keeps it from being closed. */
export type Missing =
  | { code: 'step'; step: string }
  | { code: 'unreleased'; step: string; joint: string }
  | { code: 'above new'; step: string; pad: Pad; mm: number; newMm: number }
  | { code: 'below limit'; step: string; pad: Pad; mm: number; limitMm: number }
  | { code: 'rotor below discard'; step: string; mm: number; discardMm: number }
  | { code: 'defect'; defectId: string }
  | { code: 'odometer' };

/** Thickness left at a wheel, as it was written on the card. */
export interface PadsLeft {
  step: string;
  axle: number;
  side: Side;
  innerMm: number;
  outerMm: number;
  /** The person says that the figure is right though it is above new, and why. */
  confirmed: boolean;
}

export interface RotorLeft {
  step: string;
  axle: number;
  side: Side;
  mm: number;
}

export interface AxleLimits {
  axle: number;
  newMm: number;
  limitMm: number;
  rotorDiscardMm: number | null;
}

/** Most that new pads exceed their nominal thickness, the gauge's reading included, mm (common practice, no source). */
const ABOVE_NEW_MM = 0.5;

export interface Closing {
  steps: readonly CardStep[];
  done: ReadonlySet<string>;
  padsLeft: readonly PadsLeft[];
  rotorsLeft: readonly RotorLeft[];
  axles: readonly AxleLimits[];
  openDefects: readonly string[];
  /** Whether the odometer at the job is known. */
  odometer: boolean;
}

/** Everything that is missing, in the order of the card; a job closes where nothing is. */
export function missingToClose({
  steps,
  done,
  padsLeft,
  rotorsLeft,
  axles,
  openDefects,
  odometer,
}: Closing): Missing[] {
  const limitsOf = (axle: number) => axles.find((one) => one.axle === axle);
  const undone = steps
    .filter(({ id, hold }) => hold && !done.has(id))
    .map(({ id, joint, unreleased }): Missing =>
      unreleased && joint !== undefined ? { code: 'unreleased', step: id, joint } : { code: 'step', step: id },
    );
  const pads = padsLeft.flatMap(({ step, axle, innerMm, outerMm, confirmed }) => {
    const limits = limitsOf(axle);
    if (!limits) return [];
    const { newMm, limitMm } = limits;
    return (
      [
        ['inner', innerMm],
        ['outer', outerMm],
      ] as const
    ).flatMap(([pad, mm]): Missing[] => {
      if (mm > newMm + ABOVE_NEW_MM && !confirmed) return [{ code: 'above new', step, pad, mm, newMm }];
      return mm <= limitMm ? [{ code: 'below limit', step, pad, mm, limitMm }] : [];
    });
  });
  const rotors = rotorsLeft.flatMap(({ step, axle, mm }): Missing[] => {
    const discardMm = limitsOf(axle)?.rotorDiscardMm ?? null;
    return discardMm !== null && mm < discardMm ? [{ code: 'rotor below discard', step, mm, discardMm }] : [];
  });
  const defects = openDefects.map((defectId): Missing => ({ code: 'defect', defectId }));
  return [...undone, ...pads, ...rotors, ...defects, ...(odometer ? [] : [{ code: 'odometer' } as const])];
}

/** A torque that was reached, held against its specification: signed as right, or by how much it is off. */
export function judgeReached(
  reached: number,
  { least, nominal, most }: { least: number | null; nominal: number | null; most: number | null },
): { fits: boolean; least: number; most: number } {
  // Where a document gives one figure only, so much about it counts as reached (common practice, no source).
  const from = least ?? (nominal === null ? (most ?? 0) * (1 - 2 * NOMINAL_SHARE) : nominal * (1 - NOMINAL_SHARE));
  const to = most ?? (nominal ?? from) * (1 + NOMINAL_SHARE);
  return { fits: reached >= from - 1e-9 && reached <= to + 1e-9, least: from, most: to };
}

/** How far about a single stated torque a wrench may end. */
const NOMINAL_SHARE = 0.05;
