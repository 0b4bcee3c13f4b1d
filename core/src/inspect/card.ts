import { SIDES, type Side } from '../measure/index.ts';
import { STEPS, type CardAxle, type StepDefinition, type StepKind, type StepPlace } from './cardSteps.ts';
import type { FindingItem } from './catalogue.ts';
import type { ShopPolicy } from './policy.ts';

/** One step of a card at its place. */
export interface CardStep {
  /** `pads in/1/left`, `stands/1`, `kit`: the definition and where it is done. */
  id: string;
  step: string;
  kind: StepKind;
  axle?: number | undefined;
  side?: Side | undefined;
  hold: boolean;
  minutes: number;
  /** Ids of the steps that come before, where the order costs. */
  after: string[];
  item?: FindingItem | undefined;
  joint?: string | undefined;
  /** The joint has no released specification: the step can't be signed. */
  unreleased?: true;
}

export interface CardInput {
  axles: readonly CardAxle[];
  policy: ShopPolicy;
  drawOffMl: number;
}

/** The id of a step at a place. */
export function stepId(step: string, axle?: number, side?: Side): string {
  return [step, ...(axle === undefined ? [] : [axle]), ...(side === undefined ? [] : [side])].join('/');
}

/**
 * The card of a job: every step that its axles' builds and scopes ask for, in working order. Wheels of an axle are opened
 * one after the other, then closed one after the other, each pumped before the next.
 */
export function cardOf({ axles, policy, drawOffMl }: CardInput): CardStep[] {
  const of = (part: StepDefinition['part']) => STEPS.filter((step) => step.part === part);
  const at = (axle: CardAxle, side?: Side): StepPlace => ({ ...axle, side, policy, drawOffMl, rear: axle.axle > 1 });
  const job = (part: 'prepare' | 'finish') =>
    of(part)
      .filter(({ when }) => !when || axles.some((axle) => when(at(axle))))
      .map((step) => stepAt(step));
  const onAxle = (part: 'axle', axle: CardAxle) =>
    of(part)
      .filter(({ when }) => when?.(at(axle)) ?? true)
      .map((step) => stepAt(step, axle));
  const onWheels = (part: 'open' | 'close' | 'axle end', axle: CardAxle) =>
    SIDES.flatMap((side) => of(part).flatMap((step) => jointed(step, axle, side, at(axle, side))));
  const steps = [
    ...job('prepare'),
    ...axles.flatMap((axle) => [
      ...onAxle('axle', axle),
      ...onWheels('open', axle),
      ...onWheels('close', axle),
      ...onWheels('axle end', axle),
    ]),
    ...job('finish'),
  ];
  return withOrder(steps);
}

function stepAt(step: StepDefinition, axle?: CardAxle, side?: Side): CardStep {
  const { id, kind, hold = false, minutes, after = [], item, joint } = step;
  const place = [axle?.axle, side] as const;
  return {
    id: stepId(id, ...place),
    step: id,
    kind,
    axle: axle?.axle,
    side,
    hold,
    minutes,
    after: after.map((before) => stepId(before, ...placeOfBefore(before, ...place))),
    item,
    joint,
  };
}

/** Where a step that comes before is done: of the whole job, of the axle, or of the same wheel. */
function placeOfBefore(before: string, axle?: number, side?: Side): [axle?: number, side?: Side] {
  const part = STEPS.find(({ id }) => id === before)?.part;
  if (part === 'prepare' || part === 'finish' || axle === undefined) return [];
  return part === 'axle' || side === undefined ? [axle] : [axle, side];
}

/** A step at a wheel, if it is asked for there; a torque step only for a joint the axle has, or should have. */
function jointed(step: StepDefinition, axle: CardAxle, side: Side, place: StepPlace): CardStep[] {
  if (!(step.when?.(place) ?? true)) return [];
  const own = stepAt(step, axle, side);
  if (step.joint === undefined || axle.joints.includes(step.joint)) return [own];
  return axle.unknownJoints.includes(step.joint) ? [{ ...own, unreleased: true }] : [];
}

/** Keeps of `after` what is on the card, and puts the pump of one side before the pistons of the other. */
function withOrder(steps: CardStep[]): CardStep[] {
  const ids = new Set(steps.map(({ id }) => id));
  return steps.map((one) => {
    const other = one.step === 'piston home' && one.side === 'right' ? [stepId('pumped', one.axle, 'left')] : [];
    return { ...one, after: [...one.after, ...other].filter((id) => ids.has(id)) };
  });
}

/** Steps that should have been done before this one, and are not. */
export function skippedBefore(step: CardStep, done: ReadonlySet<string>): string[] {
  return step.after.filter((id) => !done.has(id));
}
