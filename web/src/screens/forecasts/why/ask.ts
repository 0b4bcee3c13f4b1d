import type { ForecastInput } from '@mile-mark/contract/forecasts';
import type { Duty } from '@mile-mark/contract/register';
import {
  dateOfDay,
  dayNumber,
  DEFAULT_DUTY_SETTINGS,
  type Duty as CoreDuty,
  type DutySpan,
  exposureBetween,
  type RiskPolicy,
  severity,
  type VehicleInput,
} from '@mile-mark/core';

/** What would be different ahead. */
export interface Question {
  /** Duty ahead; null: as it is. */
  duty: Duty | null;
  /** Payload as a share of the most; null: the duty's own. */
  payloadShare: number | null;
  limitMm: number | null;
  riskTarget: number | null;
}

export const AS_IT_IS: Question = { duty: null, payloadShare: null, limitMm: null, riskTarget: null };

const core = ({ longestDescentM, ...duty }: Duty): CoreDuty => ({
  ...duty,
  longestDescentM: longestDescentM > 0 ? longestDescentM : undefined,
});

/** The vehicle's input as the core knows it; the wire carries it as it is. */
export const inputOf = (found: ForecastInput) => found.input as VehicleInput;
export const policyOf = (found: ForecastInput) => found.policy as RiskPolicy;

/** The input with another duty from tomorrow on, another limit of one axle, another risk. Nothing of the past changes. */
export function asked(
  found: ForecastInput,
  axle: number,
  question: Question,
): { input: VehicleInput; policy: RiskPolicy } {
  const input = inputOf(found);
  const policy = policyOf(found);
  const duty = question.duty ?? (question.payloadShare === null ? null : found.present);
  const axles = input.axles.map((one) =>
    one.axle === axle && question.limitMm !== null ? { ...one, limitMm: question.limitMm } : one,
  );
  return {
    input: {
      ...input,
      axles,
      duty:
        duty && found.reference ? [...past(input), ahead(found, duty, question.payloadShare, input.today)] : input.duty,
      // Another duty that is asked about is one that is stated: it goes on as it is.
      ahead: duty ? undefined : input.ahead,
      statedMilesPerDay: input.statedMilesPerDay,
    },
    policy: { ...policy, riskTarget: question.riskTarget ?? policy.riskTarget },
  };
}

function past({ duty, today }: VehicleInput): DutySpan[] {
  return duty.filter(({ from }) => from <= today);
}

function ahead(found: ForecastInput, duty: Duty, payloadShare: number | null, today: string): DutySpan {
  const settings = DEFAULT_DUTY_SETTINGS[found.class];
  const asked = core({ ...duty, payloadShare: payloadShare ?? duty.payloadShare });
  const reference = core(found.reference as Duty);
  return {
    from: dateOfDay(dayNumber(today) + 1),
    severity: severity(found, asked, reference, settings),
    byAxle: Object.fromEntries(
      found.shares.map(({ axle, brakeShare }) => [axle, severity(found, asked, reference, settings, brakeShare)]),
    ),
  };
}

/** A stretch of the road that the present pads have done, under one severity. */
export interface Stretch {
  from: string;
  to: string;
  miles: number;
  severity: number;
  weightedMiles: number;
}

/** Each mile since the pads were fitted (or since the record begins), by the duty it was driven under. */
export function stretchesOf(
  input: VehicleInput,
  axle: number,
  nowMiles: number,
  since: { date: string; miles: number },
): Stretch[] {
  const points = [
    since,
    ...[...input.odometers, ...input.readings, ...input.fittings]
      .filter(({ date, miles }) => date > since.date && date <= input.today && miles >= since.miles)
      .map(({ date, miles }) => ({ date, miles }))
      .sort((a, b) => a.date.localeCompare(b.date) || a.miles - b.miles),
    { date: input.today, miles: nowMiles },
  ];
  const milesOn = (date: string) => {
    const later = points.findIndex((point) => point.date >= date);
    const to = points[Math.max(0, later)] as (typeof points)[number];
    const from = points[Math.max(0, later - 1)] as (typeof points)[number];
    const days = dayNumber(to.date) - dayNumber(from.date);
    return days <= 0
      ? to.miles
      : from.miles + ((to.miles - from.miles) * (dayNumber(date) - dayNumber(from.date))) / days;
  };
  const starts = [
    since.date,
    ...input.duty.map(({ from }) => from).filter((from) => from > since.date && from < input.today),
  ];
  return starts.map((from, index) => {
    const to = starts[index + 1] ?? input.today;
    const [a, b] = [
      { date: from, miles: milesOn(from) },
      { date: to, miles: milesOn(to) },
    ];
    const { miles, weightedMiles } = exposureBetween(input.duty, a, b, axle);
    return { from, to, miles, weightedMiles, severity: miles > 0 ? weightedMiles / miles : 1 };
  });
}
