import type { CardTorque } from '@mile-mark/contract/jobs';
import {
  benchOf,
  fitInWords,
  fitsInWords,
  headOf,
  torqueInOtherUnit,
  torqueInWords,
  type BenchJoint,
  type TorqueTool,
} from '@mile-mark/contract/specifications';
import { fitJoint, hardestMiss } from '@mile-mark/core';
import type { EntryRow } from '../entries.ts';

const worded = (value: unknown): string => (typeof value === 'string' ? value : '');

/** What an entry says, in words. */
export function valueInWords({ kind, detail }: EntryRow): string {
  switch (kind) {
    case 'check':
      return String(detail.state);
    case 'level':
      return `${Math.round(Number(detail.level) * 100)} % of the way from MIN to MAX`;
    case 'pads left':
      return `inner ${Number(detail.innerMm).toFixed(1)} mm, outer ${Number(detail.outerMm).toFixed(1)} mm${detail.confirmed ? ` (confirmed: ${worded(detail.confirmed)})` : ''}`;
    case 'rotor left':
      return `${Number(detail.mm).toFixed(2)} mm`;
    case 'torque':
      return `${detail.position ? `${worded(detail.position)}: ` : ''}${Number(detail.value)} ${String(detail.unit)} with ${String(detail.tool)}`;
    case 'count':
      return `${Number(detail.stops)} stops`;
    default:
      return 'done';
  }
}

/** A joint's torque as the card asks for it, with the wrench of this bench that reaches it. */
export function torqueView(joint: BenchJoint, tools: readonly TorqueTool[], today: string): CardTorque {
  const { values, source, position, number } = joint;
  const { torque, fastener, preparation, oneTimeUse } = values;
  const fits = fitJoint(torque, benchOf(tools), today, headOf(values));
  const miss = hardestMiss(fits);
  return {
    joint: joint.joint,
    position,
    torque,
    text: torque ? `${torqueInWords(torque)}, that is ${torqueInOtherUnit(torque)}` : 'unknown',
    socket: [fastener.headSize ?? 'unknown', fastener.counterHold ? `hold ${fastener.counterHold}` : '']
      .filter(Boolean)
      .join(', '),
    preparation,
    oneTimeUse,
    count: fastener.count,
    with: miss ? fitInWords(miss) : fitsInWords(fits.map(({ fit }) => fit)).join('; '),
    source: `${source.document}, p. ${source.page}, rev. ${source.revision}`,
    revision: number,
  };
}
