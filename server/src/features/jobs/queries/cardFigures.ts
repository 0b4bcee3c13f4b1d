import type { JobCard } from '@mile-mark/contract/jobs';
import {
  bedInHeat,
  BED_IN_HABITS,
  buildOf,
  DEFAULT_DUTY_SETTINGS,
  drawOff,
  fluidTaken,
  judgeFluid,
  parsePistons,
  type BedIn,
  type CaliperWear,
  type ShopPolicy,
} from '@mile-mark/core';
import type { AxleDetail } from '@mile-mark/contract/forecasts';
import type { ModelRow } from '../../register/index.ts';
import type { ScopeItem } from '@mile-mark/contract/jobs';

/** What lies between MIN and MAX of a reservoir, mL, where the model's own is not known (common practice, no source). */
const RESERVOIR_ML = 100;

/** What wear since the pads went on took from the reservoir, and what comes back from the axles that get new ones. */
export function fluidOf(
  details: readonly AxleDetail[],
  scopes: ReadonlyMap<number, readonly ScopeItem[]>,
  { level, reservoirMl }: { level: number | undefined; reservoirMl: number | undefined },
): JobCard['fluid'] {
  const betweenMarksMl = reservoirMl ?? RESERVOIR_ML;
  const worn = details.filter(({ brake }) => brake === 'hydraulic').flatMap((detail) => calipersOf(detail));
  if (worn.length === 0) return null;
  const expectedMl = fluidTaken(worn.map(({ caliper }) => caliper));
  const renewed = worn.filter(({ axle }) => scopes.get(axle)?.some(({ action }) => action === 'pads') ?? false);
  const comesBackMl = fluidTaken(renewed.map(({ caliper }) => caliper));
  const reservoir = level === undefined ? undefined : { betweenMarksMl, level };
  return {
    betweenMarksMl,
    marksStated: reservoirMl !== undefined,
    expectedMl,
    comesBackMl,
    verdict: reservoir ? judgeFluid(reservoir, expectedMl).verdict : null,
    drawOffMl: reservoir ? drawOff(reservoir, comesBackMl) : null,
  };
}

function calipersOf(detail: AxleDetail): { axle: number; caliper: CaliperWear }[] {
  const pistons = parsePistons(detail.pistonsMm);
  if (!pistons) return [];
  const fixed = buildOf(detail.brake, detail.brakeDetail).caliper === 'fixed';
  const rotorMm =
    detail.decision?.rotor && detail.rotorNewMm !== null
      ? Math.max(0, detail.rotorNewMm - detail.decision.rotor.meanMm)
      : 0;
  return (['left', 'right'] as const).flatMap((side) => {
    const pads = detail.pads.filter((pad) => pad.side === side);
    if (pads.length === 0) return [];
    const padsMm = pads.reduce((sum, { meanMm }) => sum + Math.max(0, detail.padNewMm - meanMm), 0);
    return [{ axle: detail.axle, caliper: { pistons, fixed, padsMm, rotorMm } }];
  });
}

/** A pad maker's words such as `5 firm stops from 35 mph, then a mile without braking`; undefined where they are others. */
export function bedInFrom(text: string): BedIn | undefined {
  const found = /(?<!\d)(\d+|six|five|four|three|ten|twenty)\s+(?:\w+\s+)?stops from (\d+) mph/i.exec(text);
  if (!found) return undefined;
  const spelt: Record<string, number> = { three: 3, four: 4, five: 5, six: 6, ten: 10, twenty: 20 };
  const stops = spelt[(found[1] ?? '').toLowerCase()] ?? Number(found[1]);
  const minutes = /half a minute/i.test(text) ? 0.5 : /a minute/i.test(text) ? 1 : 1.5;
  return { stops, fromMph: Number(found[2]), betweenS: minutes * 60 };
}

/** How new friction is bedded in: by the pad maker's sheet, or the shop's habit, with what it does to the rotors. */
export function bedInOf(
  model: Pick<ModelRow, 'class' | 'tareKg'>,
  brakeShare: number,
  policy: ShopPolicy,
  sheet: string | null,
): JobCard['bedIn'] {
  const bySheet = policy['bed-in'] === "the pad maker's sheet" && sheet !== null ? bedInFrom(sheet) : undefined;
  const habit = policy['bed-in'] === 'many with cooling' ? 'many with cooling' : 'few firm stops';
  const plan = bySheet ?? BED_IN_HABITS[habit];
  const settings = DEFAULT_DUTY_SETTINGS[model.class as 'pickup' | 'van' | 'heavy'];
  const heat = bedInHeat(plan, { massKg: model.tareKg, brakeShare }, settings);
  const text =
    bySheet && sheet !== null
      ? `by the pad maker’s sheet, ${sheet}`
      : `${plan.stops} stops from ${plan.fromMph} mph, ${plan.betweenS} s of driving between (${habit}; the pad maker’s sheet goes first).`;
  return {
    text,
    stops: plan.stops,
    fromMph: plan.fromMph,
    betweenS: plan.betweenS,
    stopKj: heat.stopJ / 1000,
    perKgKj: heat.perKgJ / 1000,
    endC: heat.endC,
  };
}
