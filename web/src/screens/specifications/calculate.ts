import { failureInWords } from '@mile-mark/contract/words';
import {
  adapterSetting,
  flatsOf,
  multiplierSetting,
  parseNumber,
  parseThread,
  parseTorque,
  threadAdvance,
  torqueIn,
  torqueToNm,
  type TorqueUnit,
} from '@mile-mark/core';

export const SUMS = ['units', 'adapter', 'multiplier', 'angle'] as const;
export type Sum = (typeof SUMS)[number];

export interface SumField {
  name: string;
  label: string;
  start: string;
}

/** What each sum asks for. */
export const SUM_FIELDS: Record<Sum, SumField[]> = {
  units: [{ name: 'torque', label: 'Torque with its unit', start: '155 lbf·ft' }],
  adapter: [
    { name: 'torque', label: 'Torque at the fastener', start: '155 lbf·ft' },
    { name: 'length', label: 'L, grip to drive, mm', start: '430' },
    { name: 'extension', label: 'E, drive to fastener, mm', start: '90' },
    { name: 'turn', label: 'Out of line by, °', start: '0' },
  ],
  multiplier: [
    { name: 'torque', label: 'Torque at the fastener', start: '650 N·m' },
    { name: 'ratio', label: 'Ratio, output over input', start: '5' },
  ],
  angle: [
    { name: 'angle', label: 'Turn, °', start: '90' },
    { name: 'thread', label: 'Thread', start: 'M12x1.5' },
  ],
};

export type SumResult = { ok: true; result: string[]; formula: string } | { ok: false; field: string; message: string };

const tidy = (value: number) => String(Number(value.toPrecision(4)));

/** Works a sum out, with its formula in figures; or says which field is wrong. */
export function workOut(sum: Sum, typed: Record<string, string>): SumResult {
  const wrong = (field: string, message: string): SumResult => ({ ok: false, field, message });
  const number = (name: string, least: number, most: number): number | string => {
    const parsed = parseNumber(typed[name] ?? '');
    if (!parsed.ok) return failureInWords(parsed.failure);
    return parsed.value >= least && parsed.value <= most ? parsed.value : `Between ${least} and ${most} is accepted.`;
  };
  if (sum === 'angle') {
    const angle = number('angle', 1, 720);
    if (typeof angle === 'string') return wrong('angle', angle);
    const thread = parseThread(typed.thread ?? '');
    if (!thread) return wrong('thread', 'A thread such as M12x1.5 or 7/16-20 is accepted.');
    const flats = tidy(flatsOf(angle));
    return {
      ok: true,
      result: [`${flats} flats of a hexagon`, `${tidy(threadAdvance(thread, angle))} mm further in`],
      formula: `${tidy(angle)}° ÷ 60° = ${flats} flats; ${tidy(thread.pitchMm)} mm × ${tidy(angle)}° ÷ 360°`,
    };
  }
  const torque = parseTorque(typed.torque ?? '');
  if (!torque.ok) return wrong('torque', failureInWords(torque.failure));
  const { value, unit } = torque.value;
  if (sum === 'units') return { ok: true, ...inEveryUnit(value, unit) };
  const both = (setting: number) => [
    `Set ${tidy(setting)} ${unit}`,
    `which is ${tidy(torqueIn(torqueToNm(setting, unit), other(unit)))} ${other(unit)}`,
  ];
  if (sum === 'multiplier') {
    const ratio = number('ratio', 1.01, 125);
    if (typeof ratio === 'string') return wrong('ratio', ratio);
    const setting = multiplierSetting(value, ratio);
    return {
      ok: true,
      result: both(setting),
      formula: `setting = torque ÷ ratio = ${tidy(value)} ÷ ${tidy(ratio)}`,
    };
  }
  const length = number('length', 100, 2500);
  if (typeof length === 'string') return wrong('length', length);
  const extension = number('extension', 0, 500);
  if (typeof extension === 'string') return wrong('extension', extension);
  const turn = number('turn', 0, 180);
  if (typeof turn === 'string') return wrong('turn', turn);
  const along = turn === 0 ? tidy(extension) : `${tidy(extension)} × cos ${tidy(turn)}°`;
  return {
    ok: true,
    result: both(adapterSetting(value, length, extension, turn)),
    formula: `setting = torque × L ÷ (L + E${turn === 0 ? '' : ' × cos θ'}) = ${tidy(value)} × ${tidy(length)} ÷ (${tidy(length)} + ${along})`,
  };
}

const other = (unit: TorqueUnit): TorqueUnit => (unit === 'N·m' ? 'lbf·ft' : 'N·m');

function inEveryUnit(value: number, unit: TorqueUnit): { result: string[]; formula: string } {
  const nm = torqueToNm(value, unit);
  const others = (['N·m', 'lbf·ft', 'lbf·in'] as const).filter((one) => one !== unit);
  return {
    result: others.map((one) => `${tidy(torqueIn(nm, one))} ${one}`),
    formula: '1 lbf·ft = 1.355818 N·m = 12 lbf·in (NIST SP 811)',
  };
}
