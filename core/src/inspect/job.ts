/** Where a job stands. */
export const JOB_STATES = ['proposed', 'booked', 'in work', 'closed', 'called off'] as const;
export type JobState = (typeof JOB_STATES)[number];

/** What can be done with a job as a whole. */
export const JOB_VERBS = ['book', 'start', 'close', 'call off'] as const;
export type JobVerb = (typeof JOB_VERBS)[number];

/**
 * The state machine, as plain data: from which states a verb may be used and where it leads. A booked job is booked again
 * when it is moved to another day. The database is given the same moves.
 */
export const JOB_MOVES: Readonly<Record<JobVerb, { from: readonly JobState[]; to: JobState }>> = {
  book: { from: ['proposed', 'booked'], to: 'booked' },
  start: { from: ['proposed', 'booked'], to: 'in work' },
  close: { from: ['in work'], to: 'closed' },
  'call off': { from: ['proposed', 'booked', 'in work'], to: 'called off' },
};

/** Where a verb leads from a state; undefined where the move is illegal. */
export function afterMove(state: JobState, verb: JobVerb): JobState | undefined {
  const { from, to } = JOB_MOVES[verb];
  return from.includes(state) ? to : undefined;
}

/** Whether a job still lies ahead or is being done. */
export function isOpen(state: JobState): boolean {
  return JOB_VERBS.some((verb) => JOB_MOVES[verb].from.includes(state));
}
