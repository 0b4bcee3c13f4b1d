import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { refuseOutside, within, type Reach } from './reach.ts';

const OWN = ['P01', 'V02'];
const OTHERS = ['P09', 'T14'];
const reach: Reach = {
  told: 'Hill depot',
  names: [
    { key: 'unit', own: new Set(OWN), others: new Set(OTHERS) },
    { key: 'depot', own: new Set(['Hill depot']), others: new Set(['Far depot']) },
  ],
  holds: async () => true,
  holdsEvent: () => true,
};
const errorsOf = (sent: unknown) => {
  try {
    refuseOutside(reach, sent);
    return [];
  } catch (error) {
    return (error as { errors: { field: string }[] }).errors.map(({ field }) => field);
  }
};

describe('an answer within reach', () => {
  it.each([
    ['a list is shorter', { items: [{ unit: 'P01' }, { unit: 'P09' }] }, { items: [{ unit: 'P01' }] }],
    ['names in a list too', { units: ['P01', 'T14'], depots: ['Far depot'] }, { units: ['P01'], depots: [] }],
    ['a unit of measure is no vehicle’s', [{ unit: 'mm', depot: 'Far depot' }, { unit: 'mm' }], [{ unit: 'mm' }]],
    ['a vehicle done elsewhere stays', { unit: 'P01', depot: 'Far depot' }, { unit: 'P01', depot: 'Far depot' }],
    [
      'and is told where, within it',
      { unit: 'P01', job: { depot: 'Far depot', day: 3 } },
      { unit: 'P01', job: { depot: 'Far depot', day: 3 } },
    ],
    ['a guest is here', [{ unit: 'V02', depot: 'Far depot' }], [{ unit: 'V02', depot: 'Far depot' }]],
    ['another’s is not there', { unit: 'P09', depot: 'Hill depot' }, undefined],
    ['nor what is about it', { card: { job: { unit: 'P09' } } }, undefined],
    ['what is nobody’s is everybody’s', { text: 'P09', n: 1, none: null }, { text: 'P09', n: 1, none: null }],
    ['a day stays one', { at: new Date(0) }, { at: new Date(0) }],
  ])('%s', (_name, answer, left) => {
    expect(within(answer, reach)).toEqual(left);
  });

  it('names nothing of others, however it is nested, and loses nothing where all is theirs', () => {
    const answers = (units: readonly string[], depots: readonly string[]) =>
      fc.letrec((tie) => ({
        value: fc.oneof(
          { maxDepth: 4 },
          fc.integer(),
          fc.record({ unit: fc.constantFrom(...units, 'mm'), depot: fc.constantFrom(...depots), rest: tie('value') }),
          fc.record({ depot: fc.constantFrom(...depots), rest: tie('value') }),
          fc.array(tie('value'), { maxLength: 4 }),
        ),
      })).value;
    fc.assert(
      fc.property(answers([...OWN, ...OTHERS], ['Hill depot', 'Far depot']), (answer) => {
        const left = JSON.stringify(within(answer, reach) ?? null);
        for (const other of OTHERS) expect(left).not.toContain(`"${other}"`);
        // Cut once, it is cut.
        expect(JSON.stringify(within(JSON.parse(left), reach) ?? null)).toBe(left);
      }),
    );
    fc.assert(
      fc.property(answers(OWN, ['Hill depot']), (answer) => {
        expect(within(answer, reach)).toEqual(answer);
      }),
    );
  });
});

describe('a request', () => {
  it.each([
    ['its own', { unit: 'P01', depot: 'Hill depot' }, []],
    ['another’s', { unit: 'P09' }, ['unit']],
    ['as people type it', { inspection: { unit: ' t14 ' } }, ['inspection.unit']],
    ['in a list', { lines: [{ depot: 'Hill depot' }, { depot: 'Far depot' }] }, ['lines.1.depot']],
    ['what is not on record is for others to refuse', { unit: 'X99' }, []],
    ['a unit of measure', { unit: 'mm', text: 'P09' }, []],
    ['nothing', undefined, []],
  ])('%s', (_name, sent, fields) => {
    expect(errorsOf(sent)).toEqual(fields);
  });
});
