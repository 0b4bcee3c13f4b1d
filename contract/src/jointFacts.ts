import type { Bench, JointFacts } from '@mile-mark/core';
import { torqueToNm } from '@mile-mark/core';
import type { JointValues, TorqueTool } from './specifications.ts';

/** What judging a joint needs, from what was entered of it. */
export function jointFacts({ fastener, torque }: JointValues, hollow: boolean): JointFacts {
  const { thread, strength, headKind, headSize } = fastener;
  return { thread, strength, headKind, headSize, torque, hollow };
}

/** The torque tools of a yard as the core takes them; retired ones are left out. */
export function benchOf(tools: readonly TorqueTool[]): Bench {
  const bench = { wrenches: [], adapters: [], multipliers: [] } as {
    wrenches: Bench['wrenches'][number][];
    adapters: Bench['adapters'][number][];
    multipliers: Bench['multipliers'][number][];
  };
  for (const { id, name, kind, unit, least, most, graduation, ...tool } of tools.filter(({ retired }) => !retired)) {
    const { lengthMm, extensionMm, ratio, calibrationDue } = tool;
    const mostNm = torqueToNm(most, unit);
    if (kind === 'adapter' && extensionMm !== null) bench.adapters.push({ id, name, extensionMm, mostNm });
    if (kind === 'multiplier' && ratio !== null) bench.multipliers.push({ id, name, ratio, mostNm, calibrationDue });
    if (kind === 'wrench' && least !== null && graduation !== null)
      bench.wrenches.push({ id, name, unit, least, most, graduation, lengthMm, calibrationDue });
  }
  return bench;
}
