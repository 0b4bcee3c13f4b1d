import type { BenchJoint, BenchModel, TorqueTool } from '@mile-mark/contract/specifications';
import { torqueIn, torqueToNm, type CardStep } from '@mile-mark/core';
import { DEMO_TODAY } from './cast.ts';
import type { DemoFitting } from './castModels.ts';

type Row = Record<string, unknown>;

/** The released joints of an axle. */
export const jointsOf = (bench: readonly BenchModel[], { model }: DemoFitting, axle: number): BenchJoint[] =>
  bench.find(({ name }) => name === model.name)?.axles.find((one) => one.axle === axle)?.joints ?? [];

const CHECKS: Record<string, string> = {
  pins: 'move freely',
  piston: 'goes home',
  hose: 'sound',
  bracket: 'channels clean',
  boots: 'whole',
  leak: 'dry',
  rotor: 'smooth',
};

/** What a careful person writes at a step; a joint at two places is written twice. */
export function signaturesOf(
  step: CardStep,
  one: DemoFitting,
  bench: readonly BenchModel[],
  tools: readonly TorqueTool[],
): Row[] {
  const axle = one.model.axles[(step.axle ?? 1) - 1];
  switch (step.kind) {
    case 'check':
      return [{ item: step.item, state: CHECKS[step.item ?? ''] }];
    case 'level':
      return [{ level: 0.5 }];
    case 'pads left':
      return [{ innerMm: axle?.padNew, outerMm: axle?.padNew }];
    case 'rotor left':
      return [{ mm: Number((((axle?.rotor?.[0] ?? 30) + (axle?.rotor?.[1] ?? 28)) / 2 + 0.3).toFixed(2)) }];
    case 'count':
      return [{ stops: one.model.class === 'pickup' ? 20 : one.model.class === 'van' ? 5 : 6 }];
    case 'torque':
      return jointsOf(bench, one, step.axle ?? 1)
        .filter(({ joint }) => joint === step.joint)
        .map((joint) => torqueOf(joint, one.depot, tools));
    default:
      return [{}];
  }
}

function torqueOf({ joint, position, values, number }: BenchJoint, depot: string, tools: readonly TorqueTool[]): Row {
  const unit = values.torque?.unit ?? 'N·m';
  const value = values.torque?.nominal ?? values.torque?.least ?? 0;
  const reaches = (tool: TorqueTool) => {
    const own = torqueIn(torqueToNm(value, unit), tool.unit);
    return own >= (tool.least ?? 0) && own <= tool.most && (tool.calibrationDue ?? '') >= DEMO_TODAY;
  };
  const tool = tools.find((one) => one.depot === depot && reaches(one)) ?? tools.find(reaches) ?? tools[0];
  return { position, value, unit, toolId: tool?.id, tool: tool?.name, revision: number, joint };
}
