import type { PadPlace } from '../measure/index.ts';
import { itemAt, randomNormal, type Random } from '../numeric/index.ts';
import { dateOfDay, MM_PER_INCH } from '../units/index.ts';
import { TRUTH, type FleetAppraiser, type FleetReading, type FleetVehicle, type GrossKind } from './fleetPapers.ts';
import { driftOn, type Habits } from './habits.ts';

const GROSS: readonly GrossKind[] = ['plate', 'plate', 'inches', 'digits', 'stray'];

/** One look at a vehicle: who, which axles and sides, and what each pad was read as, mistakes included. */

export function inspect(
  vehicle: FleetVehicle,
  places: readonly PadPlace[],
  thickness: readonly number[],
  { day, daysIn, miles }: { day: number; daysIn: number; miles: number },
  appraisers: readonly FleetAppraiser[],
  { random, habits }: { random: Random; habits: Habits },
): void {
  const date = dateOfDay(day);
  const appraiser = appraisers[Math.floor(random() * appraisers.length)] as FleetAppraiser;
  const skipped = vehicle.axles.filter(() => random() < TRUTH.skipAxle).map(({ axle }) => axle);
  const only =
    habits.oneSided !== undefined && random() < habits.oneSided ? (random() < 0.5 ? 'left' : 'right') : undefined;
  const bias = appraiser.biasMm + driftOn(habits, appraisers.indexOf(appraiser), daysIn);
  const readings = places.flatMap((place, p): FleetReading[] => {
    if (skipped.includes(place.axle) || (only && place.side !== only)) return [];
    const trueMm = itemAt(thickness, p);
    const grid = Math.max(appraiser.resolutionMm, habits.roundToMm ?? 0);
    const step = (mm: number) => Math.round(mm / grid) * grid;
    const clean = Math.max(0, step(trueMm + bias + appraiser.repeatabilityMm * randomNormal(random)));
    const wanted = random() < TRUTH.grossChance ? GROSS[Math.floor(random() * GROSS.length)] : undefined;
    const plateMm = vehicle.axles.find(({ axle }) => axle === place.axle)?.plateMm ?? 0;
    const mistaken = wanted && mistake(wanted, clean, plateMm, step, random);
    const id = `${vehicle.id}/${vehicle.inspections.length}/${place.axle}${place.side}${place.pad}`;
    const gross = mistaken === undefined || Math.abs(mistaken - clean) < 0.5 ? undefined : wanted;
    return [{ ...place, id, mm: gross ? (mistaken as number) : clean, trueMm, gross }];
  });
  if (readings.length > 0) vehicle.inspections.push({ date, miles, appraiser, readings, leftMm: [...thickness] });
}

/** A gross error on a clean figure, mm. A figure without two different digits before the step can't be swapped. */
function mistake(
  kind: GrossKind,
  clean: number,
  plateMm: number,
  step: (mm: number) => number,
  random: Random,
): number | undefined {
  if (kind === 'plate') return step(clean + plateMm);
  if (kind === 'inches') return Math.round((clean / MM_PER_INCH) * 100) / 100;
  if (kind === 'stray') return step(20 * random());
  const [whole, tenth] = clean.toFixed(1).split('.') as [string, string];
  return whole.length === 1 ? Number(`${tenth}.${whole}`) : Number(`${whole[1]}${whole[0]}.${tenth}`);
}
