import type { DutySpan } from '../duty/index.ts';
import { padPlaces, type PadPlace } from '../measure/index.ts';
import { itemAt, randomNormal, seededRandom, shuffled, type Random } from '../numeric/index.ts';
import { dateOfDay, dayNumber, MM_PER_INCH, type IsoDate } from '../units/index.ts';
import { TRUTH, type FleetAppraiser, type FleetOptions, type FleetVehicle, type VirtualFleet } from './fleetPapers.ts';
import { inspect } from './fleetLooks.ts';
import { isLookedAt, seasonOn, shockOf, type Habits } from './habits.ts';

const STEPS = [0.1, 0.1, 0.1, 0.5, 0.1, MM_PER_INCH / 32, 0.1, 1];
const PERIOD_DAYS = 28;

/**
 * Makes a fleet of virtual vehicles with papers and truth: two axles each, four pads an axle; wear per mile is
 * group × severity × vehicle × pad, with scatter by period and shocks per 1,000 miles; some routes change, some
 * slides seize; technicians read with bias, scatter and step, and make gross errors. Same options: same fleet.
 */
export function virtualFleet({
  vehicles,
  technicians,
  seed,
  from,
  days,
  unstatedRoutes = 0,
  habits = {},
}: FleetOptions): VirtualFleet {
  const random = seededRandom(seed);
  const steps = shuffled(STEPS, random);
  const appraisers = Array.from({ length: technicians }, (_, j): FleetAppraiser => ({
    name: `appraiser ${j + 1}`,
    biasMm: TRUTH.biasSd * randomNormal(random),
    repeatabilityMm: 0.15 + 0.35 * random(),
    resolutionMm: itemAt(steps, j % steps.length),
  }));
  const groups = Array.from({ length: TRUTH.groups }, (_, g) => {
    const heavy = g % 3 === 2;
    return {
      name: `group ${g + 1}`,
      heavy,
      newMm: heavy ? 19 + Math.floor(3 * random()) : 10 + Math.floor(3 * random()),
      plateMm: heavy ? 9 : 5.5,
      limitMm: heavy ? 4 : 3,
      rate: (heavy ? 0.1 : 0.2) * Math.exp(TRUTH.groupSpread * randomNormal(random)),
    };
  });
  const start = dayNumber(from);
  return {
    appraisers,
    from,
    to: dateOfDay(start + days),
    vehicles: Array.from({ length: vehicles }, (_, v) =>
      drive(`v${v + 1}`, groups, appraisers, { start, days, unstatedRoutes, habits }, random),
    ),
  };
}

interface Group {
  name: string;
  heavy: boolean;
  newMm: number;
  plateMm: number;
  limitMm: number;
  rate: number;
}

function drive(
  id: string,
  groups: readonly Group[],
  appraisers: readonly FleetAppraiser[],
  { start, days, unstatedRoutes, habits }: { start: number; days: number; unstatedRoutes: number; habits: Habits },
  random: Random,
): FleetVehicle {
  const normal = () => randomNormal(random);
  const heavy = random() < 1 / 3;
  const pool = groups.filter((group) => group.heavy === heavy);
  const pick = () => pool[Math.floor(random() * pool.length)] as Group;
  const own = new Map([1, 2].map((axle) => [axle, pick()]));
  const groupAt = (axle: number) => own.get(axle) as Group;
  const places = padPlaces([1, 2]);
  const vehicleFactor = Math.exp(TRUTH.vehicleSpread * normal());
  const kind = Math.exp(((habits.sistersApart ?? 0) / 2) * (Number(id.slice(1)) % 2 === 0 ? 1 : -1));
  const padSd = habits.padSd ?? TRUTH.padSpread;
  const rates = places.map(({ axle }) => groupAt(axle).rate * vehicleFactor * kind * Math.exp(padSd * normal()));
  const stated = () => 0.4 * 10 ** random();
  const duty: DutySpan[] = [{ from: dateOfDay(start), severity: stated() }];
  if (random() < TRUTH.routeChange)
    duty.push({ from: dateOfDay(start + Math.floor((0.3 + 0.4 * random()) * days)), severity: stated() });
  const off = duty.map(() => Math.exp((habits.statedErrorSd ?? TRUTH.severityOff) * normal()));
  const seized: FleetVehicle['seized'] =
    random() < TRUTH.seized
      ? {
          axle: random() < 0.5 ? 1 : 2,
          side: random() < 0.5 ? ('left' as const) : ('right' as const),
          from: dateOfDay(start + Math.floor((0.3 + 0.5 * random()) * days)),
        }
      : undefined;
  const unstated: FleetVehicle['unstated'] =
    unstatedRoutes > 0 && random() < unstatedRoutes
      ? {
          from: dateOfDay(start + Math.floor((0.3 + 0.4 * random()) * days)),
          factor: (1.6 + random()) ** (random() < 0.5 ? 1 : -1),
        }
      : undefined;
  const perDay = 30 * (250 / 30) ** random();
  const thickness = places.map(() => 0);
  const axles = [1, 2].map((axle) => ({ axle, ...specOf(groupAt(axle)) }));
  // At the start the pads of an axle are of one age, anywhere in their life.
  for (const { axle, newMm, limitMm } of axles) {
    const share = random();
    places.forEach((place, p) => {
      if (place.axle === axle) thickness[p] = newMm - share * 0.8 * (newMm - limitMm) * (1 + 0.1 * normal());
    });
  }
  const startMiles = Math.round(20_000 + 60_000 * random());
  const vehicle: FleetVehicle = {
    id,
    groups: { 1: groupAt(1).name, 2: groupAt(2).name },
    axles,
    duty,
    inspections: [],
    fittings: [],
    startMiles,
    seized,
    unstated,
    ratesMm: rates,
    road: [],
  };
  const gap = () => ((heavy ? 15_000 : 6_000) * (0.75 + 0.5 * random())) / perDay;
  let miles = startMiles;
  let next = start + gap() * random();
  const worn = places.map(() => 0);
  const blocks: DutySpan[] = [];
  const lasting = duty.map(() =>
    habits.measuredErrorSd === undefined ? 0 : Math.SQRT1_2 * habits.measuredErrorSd * normal(),
  );
  for (let day = start; day < start + days || worn.some((mm) => mm < MOST_WORN_MM); day += PERIOD_DAYS) {
    const scatter = Math.exp(TRUTH.severityOff * normal());
    const inRecord = day < start + days;
    const end = inRecord ? Math.min(day + PERIOD_DAYS, start + days) : day + PERIOD_DAYS;
    if (inRecord && habits.measuredErrorSd !== undefined) {
      const index = duty.length > 1 && dateOfDay(day) >= (duty[1]?.from ?? '') ? 1 : 0;
      const changed = unstated && dateOfDay(day) >= unstated.from ? unstated.factor : 1;
      const error = (lasting[index] ?? 0) + Math.SQRT1_2 * habits.measuredErrorSd * normal();
      const severity =
        (duty[index]?.severity ?? 1) * (off[index] ?? 1) * changed * seasonOn(habits, day) * scatter * Math.exp(error);
      blocks.push({ from: dateOfDay(day), to: dateOfDay(end), severity, measured: true, continues: blocks.length > 0 });
    }
    let here = day;
    while (here < end) {
      const until = inRecord ? Math.min(end, Math.max(here + 1, Math.ceil(next))) : end;
      const driven = perDay * (until - here) * Math.exp(0.1 * normal());
      miles += driven;
      const index = duty.length > 1 && dateOfDay(here) >= (duty[1]?.from ?? '') ? 1 : 0;
      const changed = unstated && dateOfDay(here) >= unstated.from ? unstated.factor : 1;
      const level = (duty[index]?.severity ?? 1) * (off[index] ?? 1) * changed * seasonOn(habits, here);
      const severity = level * scatter;
      const date = dateOfDay(here);
      const wearMm = places.map((_, p) => {
        const shock = Math.exp((TRUTH.shock * shockOf(habits, random)) / Math.sqrt(Math.max(0.2, driven / 1000)));
        return (itemAt(rates, p) * driven * severity * shock) / 1000;
      });
      places.forEach((place, p) => {
        const own = itemAt(wearMm, p);
        thickness[p] = Math.max(0.2, itemAt(thickness, p) - own * seizedFactor(seized, place, date, date));
        if (!inRecord) worn[p] = itemAt(worn, p) + own;
      });
      here = until;
      vehicle.road.push({ day: here, miles, severity: level, wearMm });
      if (!inRecord || here < next) continue;
      next = here + gap();
      if (isLookedAt(habits, vehicle.inspections.length, (here - start) / days))
        inspect(vehicle, places, thickness, { day: here, daysIn: here - start, miles: Math.round(miles) }, appraisers, {
          random,
          habits,
        });
      for (const { axle, newMm, limitMm } of axles) {
        const mine = places.flatMap((place, p) => (place.axle === axle ? [p] : []));
        if (Math.min(...mine.map((p) => itemAt(thickness, p))) > limitMm + 1) continue;
        vehicle.fittings.push({ date: dateOfDay(here), miles: Math.round(miles), axle });
        for (const p of mine) thickness[p] = newMm + (habits.nominalOffMm ?? 0) + TRUTH.toleranceMm * normal();
        if (seized?.axle === axle && dateOfDay(here) >= seized.from) seized.freed ??= dateOfDay(here);
      }
      const visit = vehicle.inspections.at(-1);
      if (visit?.date === dateOfDay(here)) visit.leftMm = [...thickness];
    }
  }
  if (blocks.length > 0) vehicle.duty = blocks;
  return vehicle;
}

/** Wear past the record after which every pad has surely reached its limit, mm. */
const MOST_WORN_MM = 17;

/** How a seized slide multiplies a pad's wear on a day, as somebody knows it on the day `asOf`: freed by later work or not. */
export function seizedFactor(
  seized: FleetVehicle['seized'],
  { axle, side, pad }: PadPlace,
  date: IsoDate,
  asOf: IsoDate,
): number {
  if (!seized || axle !== seized.axle || side !== seized.side || date < seized.from) return 1;
  if (seized.freed !== undefined && asOf >= seized.freed) return 1;
  return pad === 'inner' ? 3 : 0.5;
}

function specOf({ newMm, plateMm, limitMm }: Group): { newMm: number; plateMm: number; limitMm: number } {
  return { newMm, plateMm, limitMm };
}
