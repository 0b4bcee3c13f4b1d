import { describe, expect, it } from '@jest/globals';
import { afterMove, isOpen, JOB_STATES, JOB_VERBS, type JobState, type JobVerb } from './job.ts';

/** Every state × every verb, written out by hand. */
const EXPECTED: Record<JobState, Record<JobVerb, JobState | undefined>> = {
  proposed: { book: 'booked', start: 'in work', close: undefined, 'call off': 'called off' },
  booked: { book: 'booked', start: 'in work', close: undefined, 'call off': 'called off' },
  'in work': { book: undefined, start: undefined, close: 'closed', 'call off': 'called off' },
  closed: { book: undefined, start: undefined, close: undefined, 'call off': undefined },
  'called off': { book: undefined, start: undefined, close: undefined, 'call off': undefined },
};

describe('the states of a job', () => {
  it.each(JOB_STATES.flatMap((state) => JOB_VERBS.map((verb) => ({ state, verb }))))(
    '$verb when it is $state',
    ({ state, verb }) => {
      expect(afterMove(state, verb)).toBe(EXPECTED[state][verb]);
    },
  );

  it('are open until closed or called off', () => {
    expect(JOB_STATES.filter(isOpen)).toEqual(['proposed', 'booked', 'in work']);
  });
});
