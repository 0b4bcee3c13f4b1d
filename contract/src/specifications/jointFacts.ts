import { type Bench, fitJoint, hardestMiss, type JointFacts, type TorqueTarget, torqueToNm } from '@mile-mark/core';
import type { BenchAxle, TorqueTool } from './benches.ts';
import type { JointValues } from './schemas.ts';
import { fitInWords, torqueInWords } from './torqueWords.ts';

/** What judging a joint needs, from what was entered of it. */
export function jointFacts({ fastener, torque }: JointValues, hollow: boolean): JointFacts {
  const { thread, strength, headKind, headSize } = fastener;
  return { thread, strength, headKind, headSize, torque, hollow };
}

/** What takes hold of a joint's fastener. */
export function headOf({ fastener: { headKind, headSize } }: JointValues): NonNullable<TorqueTarget['head']> {
  return { kind: headKind, size: headSize };
}

/** The torque tools of a depot as the core takes them; retired ones are left out. */
export function benchOf(tools: readonly TorqueTool[]): Bench {
  const bench = { wrenches: [], adapters: [], multipliers: [] } as {
    wrenches: Bench['wrenches'][number][];
    adapters: Bench['adapters'][number][];
    multipliers: Bench['multipliers'][number][];
  };
  for (const { id, name, kind, unit, least, most, graduation, endSize, ...tool } of tools.filter(
    ({ retired }) => !retired,
  )) {
    const { lengthMm, extensionMm, ratio, calibrationDue } = tool;
    const mostNm = torqueToNm(most, unit);
    if (kind === 'adapter' && extensionMm !== null) bench.adapters.push({ id, name, extensionMm, mostNm, endSize });
    if (kind === 'multiplier' && ratio !== null) bench.multipliers.push({ id, name, ratio, mostNm, calibrationDue });
    if (kind === 'wrench' && least !== null && graduation !== null)
      bench.wrenches.push({ id, name, unit, least, most, graduation, lengthMm, calibrationDue });
  }
  return bench;
}

/** Whether a job on an axle can be done: what is unknown, and which torques the bench doesn't reach. */
export interface Readiness {
  released: number;
  unknown: string[];
  unreachable: { joint: string; torque: string; need: string }[];
}

/**
 * Whether everything that an axle's job needs to be tightened is known and in reach.
 *
 * @param today ISO date, for calibrations
 */
export function readinessOf(
  { joints, unknown }: Pick<BenchAxle, 'joints' | 'unknown'>,
  tools: readonly TorqueTool[],
  today: string,
): Readiness {
  const bench = benchOf(tools);
  const withoutTorque = joints.filter(({ values }) => values.torque === null).map(({ joint }) => joint);
  return {
    released: joints.length,
    unknown: [...unknown, ...withoutTorque],
    unreachable: joints.flatMap(({ joint, position, values }) => {
      const miss = hardestMiss(fitJoint(values.torque, bench, today, headOf(values)));
      if (!miss || !values.torque) return [];
      const name = position ? `${joint}, ${position}` : joint;
      return [{ joint: name, torque: torqueInWords(values.torque), need: fitInWords(miss) }];
    }),
  };
}
