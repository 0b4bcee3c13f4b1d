import { describe, expect, it } from '@jest/globals';
import type { Suspicion } from '../measure/index.ts';
import { judgedTogether } from './judgedTogether.ts';
import type { ReadingInput, ReadingJudgement } from './types.ts';

const PADS = ['left inner', 'left outer', 'right inner', 'right outer'];

/** A look at one axle of 5.5 mm plates: what was suspected of each pad, and how far it was off. */
function look(suspicions: (Pick<Suspicion, 'kind' | 'differenceMm'> | undefined)[], date = '2026-05-04') {
  const readings = suspicions.map(
    (_, index) =>
      ({
        ...{ id: `${date} ${PADS[index]}`, date, miles: 40_000, axle: 1, mm: 14 },
        technician: 'A',
        side: index < 2 ? 'left' : 'right',
        pad: index % 2 === 0 ? 'inner' : 'outer',
      }) as ReadingInput,
  );
  const judgements = suspicions.map(
    (one, index) =>
      ({
        id: readings[index]?.id,
        suspicion: one && { ...one, probability: 0.9, expectedMm: 8.5, insteadMm: one.kind === 'digits' ? 4.1 : 8.5 },
      }) as ReadingJudgement,
  );
  return { readings, judgements };
}
const axles = [{ axle: 1, plateMm: 5.5 }] as Parameters<typeof judgedTogether>[1]['axles'];
const kinds = ({ readings, judgements }: ReturnType<typeof look>) =>
  judgedTogether(judgements, { readings, axles }).map(({ suspicion }) => suspicion?.kind);
const plate = { kind: 'plate', differenceMm: 5.5 } as const;
const digits = { kind: 'digits', differenceMm: 5.2 } as const;
const thinner = { kind: 'thinner_than_expected', differenceMm: -3 } as const;

describe('doubts of one look', () => {
  it('ask about the plate at all four pads, not about swapped digits at one', () => {
    const seen = look([plate, plate, digits, plate]);
    expect(kinds(seen)).toEqual(['plate', 'plate', 'plate', 'plate']);
    const [, , mended] = judgedTogether(seen.judgements, { readings: seen.readings, axles });
    expect(mended?.suspicion?.insteadMm).toBe(8.5);
  });

  it('ask about wear at all four where three wear faster', () =>
    expect(kinds(look([thinner, { kind: 'digits', differenceMm: -3.2 }, thinner, thinner]))).toEqual(
      Array(4).fill('thinner_than_expected'),
    ));

  it('ask about wear where the digits of three or four pads would have to be swapped alike', () => {
    const swapped = { kind: 'digits', differenceMm: -1.3 } as const;
    expect(kinds(look([swapped, swapped, swapped, swapped]))).toEqual(Array(4).fill('thinner_than_expected'));
    expect(kinds(look([digits, digits, digits, undefined])).slice(0, 3)).toEqual(
      Array(3).fill('thicker_than_expected'),
    );
    expect(kinds(look([swapped, swapped, undefined, undefined])).slice(0, 2)).toEqual(['digits', 'digits']);
  });

  it.each([
    ['only one other is off', [plate, digits, undefined, undefined]],
    ['it is off the other way', [plate, plate, plate, { kind: 'digits', differenceMm: -4 }]],
    ['it is off by much more', [plate, plate, { kind: 'digits', differenceMm: 9 }, plate]],
    ['the others are off for reasons of their own', [plate, thinner, digits, digits]],
  ] as const)('stay as they are where %s', (_, suspicions) =>
    expect(kinds(look([...suspicions]))).toEqual(suspicions.map((one) => one?.kind)),
  );

  it('tell nothing of another look', () => {
    const [first, second] = [look([plate, plate, plate]), look([digits], '2026-06-04')];
    const both = {
      readings: [...first.readings, ...second.readings],
      judgements: [...first.judgements, ...second.judgements],
    };
    expect(kinds(both).at(-1)).toBe('digits');
  });

  it('leave what is not suspected, and swapped sides, alone', () => {
    expect(kinds(look([undefined, plate, plate, { kind: 'sides', differenceMm: 5.5 }]))).toEqual([
      undefined,
      'plate',
      'plate',
      'sides',
    ]);
  });
});
