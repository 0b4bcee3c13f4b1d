import { SIDES, type Side } from '../measure/index.ts';
import { findingOf, JOB_ACTIONS, worst, type JobAction, type Severity } from './catalogue.ts';
import type { RotorAlternative } from './rotorChoice.ts';
import { alternativesOf, belowLaw, RULES, type AxleFacts, type Fired, type RuleId } from './rules.ts';

/** What is proposed for an axle, with the rules that fired and what may not wait. */
export interface Decision {
  fired: Fired[];
  /** Each action once, in the order of the catalogue; sides where it is not both. */
  scope: { action: JobAction; sides: Side[] | 'both'; mandatory: boolean; rules: RuleId[] }[];
  rotors: RotorAlternative[];
  severity: Severity | undefined;
}

/** Brings what is known of an axle to a proposed scope. Nothing asked for leaves the scope empty. */
export function decide(facts: AxleFacts): Decision {
  const fired = RULES.flatMap(({ id, fires }) => fires(facts).map((one) => ({ rule: id, ...one })));
  const byAction = new Map<JobAction, Fired[]>();
  for (const one of fired) byAction.set(one.action, [...(byAction.get(one.action) ?? []), one]);
  const scope = JOB_ACTIONS.filter((action) => byAction.has(action)).map((action) => {
    const own = byAction.get(action) ?? [];
    const sides = [...new Set(own.map(({ side }) => side))];
    const both = sides.includes(undefined) || sides.length === SIDES.length;
    return {
      action,
      sides: both ? ('both' as const) : (sides as Side[]),
      mandatory: own.some(({ mandatory }) => mandatory),
      rules: [...new Set(own.map(({ rule }) => rule))],
    };
  });
  const severity = worst([
    ...facts.findings.flatMap(({ item, state }) => findingOf(item, state)?.severity ?? []),
    ...(belowLaw(facts) ? (['do not drive'] as const) : []),
  ]);
  return { fired, scope, rotors: alternativesOf(facts), severity };
}
