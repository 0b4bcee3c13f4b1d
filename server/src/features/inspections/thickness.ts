import { maxPlausibleMm } from '@mile-mark/core';
import type { ModelAxleRow } from '../register/index.ts';

/** Why a thickness can't be one of this axle's pads, in words; undefined where it can. */
export function impossibleThickness(mm: number, typed: string, axle: ModelAxleRow): string | undefined {
  const most = maxPlausibleMm({ newMm: axle.padNewUm / 1000, plateMm: axle.backingPlateUm / 1000 });
  if (mm <= most) return undefined;
  const tenth = /^\d{2,3}$/.test(typed.trim())
    ? ` Is a decimal mark missing (${typed.trim().slice(0, -1)}.${typed.trim().slice(-1)})?`
    : '';
  return `${typed.trim()} is ${mm.toFixed(1)} mm, more than pad and backing plate together (${axle.padNewUm / 1000} + ${axle.backingPlateUm / 1000} mm); up to ${most.toFixed(1)} mm is accepted.${tenth}`;
}
