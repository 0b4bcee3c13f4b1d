import type { Role } from './common.ts';

/**
 * Who may do what: the one table that routes, commands, jobs and screens read. An action is what a person does, not
 * where it is done.
 */
export const POLICY = {
  /** Look at what is on record; keep one's own units. */
  read: ['coordinator', 'technician', 'parts keeper', 'viewer'],
  /** Measure and record: inspections, photos, pads fitted, gauges, runs of a study, sheets of readings. */
  measure: ['coordinator', 'technician'],
  /** Take in files; of which kind, what is in them decides. */
  import: ['coordinator', 'technician', 'parts keeper'],
  /** Correct what somebody else measured. */
  correctOthers: ['coordinator'],
  /** See how everybody reads, and everybody's questions; others see their own. */
  seeEverybody: ['coordinator'],
  /** Settle questions, changes of wear and odometers. */
  decide: ['coordinator'],
  /** Keep the fleet's lists: vehicles, models, duties, limits, settings, the feed. */
  register: ['coordinator'],
  /** Put a complaint about a vehicle on record. */
  complain: ['coordinator', 'technician', 'parts keeper', 'viewer'],
  /** Work on a job: begin it, write on its card, settle defects, close it. */
  work: ['coordinator', 'technician'],
  /** Propose, book, move and call off jobs. */
  book: ['coordinator'],
  /** Keep shops and plans: propose, move, publish; who is away; calendars given out. */
  plan: ['coordinator'],
  /** Keep parts: catalogue, stock, counts, orders, receipts. */
  supply: ['coordinator', 'parts keeper'],
  /** Take parts for a job. */
  pick: ['coordinator', 'parts keeper', 'technician'],
  /** Plan gauge studies and take them in. */
  study: ['coordinator'],
  /** Enter, compare and release specifications; withdraw what is not released. */
  specify: ['coordinator', 'technician'],
  /** Withdraw a released specification. */
  withdrawReleased: ['coordinator'],
  /** Keep torque tools and their calibrations. */
  equip: ['coordinator'],
  /** Put people on record, give accounts, see addresses. */
  administer: ['coordinator'],
} as const satisfies Record<string, readonly Role[]>;

export type Action = keyof typeof POLICY;

/** Whether a role may do this. */
export function mayDo(role: Role, action: Action): boolean {
  return rolesThat(action).includes(role);
}

/** The roles that may do this. */
export function rolesThat(action: Action): readonly Role[] {
  return POLICY[action];
}
