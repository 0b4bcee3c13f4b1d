import { severityOn, type DutySpan } from '../duty/index.ts';
import { padPlaces, type Pad, type Side } from '../measure/index.ts';
import { itemAt, randomNormal, type Random } from '../numeric/index.ts';
import { dateOfDay, dayNumber, type IsoDate } from '../units/index.ts';

/** A technician of a virtual fleet, whose true appraiser is known. */
export interface VirtualAppraiser {
  name: string;
  biasMm: number;
  repeatabilityMm: number;
  resolutionMm: number;
  /** Chance that a reading includes the backing plate. */
  plateChance: number;
}

/** An axle to be driven; thicknesses in mm. */
export interface VirtualAxle {
  axle: number;
  newMm: number;
  plateMm: number;
  limitMm: number;
  /** True wear, mm per 1,000 miles at severity 1. */
  ratePer1000: number;
}

/** A slide that seizes on a day and wears its inner pad faster from then on. */
export interface VirtualSeizure {
  axle: number;
  side: Side;
  from: IsoDate;
}

/** What `simulateVehicle` drives. */
export interface VirtualVehicle {
  axles: VirtualAxle[];
  appraisers: VirtualAppraiser[];
  from: IsoDate;
  to: IsoDate;
  startMiles: number;
  milesPerDay: number;
  duty: DutySpan[];
  /** Miles between inspections, about. */
  inspectEvery: number;
  /** Thickness to which pads are worn before they are changed, mm over the limit (may be negative: late). */
  changeAtOverLimitMm: number;
  seizure?: VirtualSeizure | undefined;
}

/** A virtual reading with its truth, mm. */
export interface VirtualReading {
  axle: number;
  side: Side;
  pad: Pad;
  mm: number;
  trueMm: number;
  gross: boolean;
}

/** A virtual look at all pads by one appraiser. */
export interface VirtualInspection {
  date: IsoDate;
  miles: number;
  appraiser: VirtualAppraiser;
  readings: VirtualReading[];
}

/** What a driven vehicle leaves behind: papers and truth. */
export interface VirtualHistory {
  inspections: VirtualInspection[];
  fittings: { date: IsoDate; miles: number; axle: number }[];
  endMiles: number;
  /** True thickness at the end, in the order of `padPlaces`. */
  truthMm: number[];
  /** True wear at the end, mm per 1,000 miles at severity 1, same order. */
  trueRates: number[];
}

/** Scatter of the truth: vehicle, pad, per 28 days, per pad and 1,000 miles. */
const SPREAD = { vehicle: 0.2, pad: 0.08, period: 0.12, shock: 0.2 };

/** How a seized slide wears its wheel's pads (common practice, no source). */
const SEIZED = { inner: 3, outer: 0.5 };

/**
 * Drives one virtual vehicle through its days, wears its pads, has them measured and changed, and returns
 * papers and truth. Same specification and same random source: same history.
 */
export function simulateVehicle(spec: VirtualVehicle, random: Random): VirtualHistory {
  const places = padPlaces(spec.axles.map(({ axle }) => axle));
  const axleOf = (axle: number) => spec.axles.find((one) => one.axle === axle) as VirtualAxle;
  const vehicle = Math.exp(SPREAD.vehicle * randomNormal(random));
  const rates = places.map(
    ({ axle }) => axleOf(axle).ratePer1000 * vehicle * Math.exp(SPREAD.pad * randomNormal(random)),
  );
  const startShare = new Map(spec.axles.map(({ axle }) => [axle, 0.35 + 0.6 * random()]));
  const thickness = places.map(({ axle }) => {
    const { newMm, limitMm } = axleOf(axle);
    return limitMm + (newMm - limitMm) * (startShare.get(axle) ?? 1) + 0.15 * randomNormal(random);
  });

  const history: VirtualHistory = {
    inspections: [],
    fittings: [],
    endMiles: spec.startMiles,
    truthMm: thickness,
    trueRates: rates,
  };
  let miles = spec.startMiles;
  let seizure = spec.seizure;
  let nextInspectionDue = miles + spec.inspectEvery * (0.1 + 0.5 * random());
  let period = 1;
  const first = dayNumber(spec.from);
  const last = dayNumber(spec.to);
  for (let day = first; day <= last; day += 1) {
    if ((day - first) % 28 === 0) period = Math.exp(SPREAD.period * randomNormal(random));
    const date = dateOfDay(day);
    const weekend = day % 7 === 3 || day % 7 === 4;
    const driven = weekend ? 0 : Math.max(0, spec.milesPerDay * 1.4 * (1 + 0.15 * randomNormal(random)));
    miles += driven;
    const severity = severityOn(spec.duty, day) * period;
    places.forEach((place, p) => {
      const seized = seizure?.axle === place.axle && seizure.side === place.side && date >= seizure.from;
      const factor = seized ? SEIZED[place.pad] : 1;
      const shock =
        driven > 0 ? Math.exp((SPREAD.shock * randomNormal(random)) / Math.sqrt(Math.max(driven, 1) / 1000) / 3) : 1;
      const wear = ((itemAt(rates, p) * driven) / 1000) * severity * factor * Math.min(shock, 3);
      thickness[p] = Math.max(0.3, itemAt(thickness, p) - wear);
    });
    if (miles < nextInspectionDue || weekend) continue;
    nextInspectionDue = miles + spec.inspectEvery * (0.75 + 0.5 * random());
    const inspection = inspect(spec, places, thickness, date, miles, random);
    history.inspections.push(inspection);
    for (const { axle, limitMm, newMm } of spec.axles) {
      const own = places.flatMap((place, p) => (place.axle === axle ? [p] : []));
      if (Math.min(...own.map((p) => itemAt(thickness, p))) > limitMm + spec.changeAtOverLimitMm) continue;
      if (day === last) continue; // the new pads go on the day after: not within this history
      history.fittings.push({ date: dateOfDay(day + 1), miles, axle });
      for (const p of own) thickness[p] = newMm + 0.1 * randomNormal(random);
      if (seizure?.axle === axle && date >= seizure.from) seizure = undefined;
    }
  }
  history.endMiles = miles;
  return history;
}

function inspect(
  spec: VirtualVehicle,
  places: ReturnType<typeof padPlaces>,
  thickness: readonly number[],
  date: IsoDate,
  miles: number,
  random: Random,
): VirtualInspection {
  const appraiser = spec.appraisers[Math.floor(random() * spec.appraisers.length)] as VirtualAppraiser;
  const readings = places.map((place, p) => {
    const trueMm = itemAt(thickness, p);
    const gross = random() < appraiser.plateChance;
    const plate = gross ? (spec.axles.find(({ axle }) => axle === place.axle)?.plateMm ?? 0) : 0;
    const seen = Math.max(0, trueMm + plate + appraiser.biasMm + appraiser.repeatabilityMm * randomNormal(random));
    return { ...place, mm: Math.round(seen / appraiser.resolutionMm) * appraiser.resolutionMm, trueMm, gross };
  });
  return { date, miles, appraiser, readings };
}
