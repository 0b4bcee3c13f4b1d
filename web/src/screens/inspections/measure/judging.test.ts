import { describe, expect, it } from '@jest/globals';
import { type Expected, judgeTyped } from './judging.ts';

const axle = { newMm: 11, plateMm: 5.8 };
const pad: Expected = { meanMm: 6.2, sdMm: 0.25, informed: true };
const judge = (typed: string, unit: 'mm' | '1/32 in' = 'mm', known: Expected | undefined = pad) =>
  judgeTyped(typed, unit, 0.1, axle, known);

describe('a figure while it is typed', () => {
  it('is empty, fine, wrong or suspect', () => {
    expect(judge(' ').kind).toBe('empty');
    expect(judge('6.1')).toEqual({ kind: 'fine', mm: 6.1 });
    expect(judge('8/32', '1/32 in')).toEqual({ kind: 'fine', mm: 6.35 });
    expect(judge('x')).toMatchObject({ kind: 'wrong' });
    expect(judge('12.0')).toMatchObject({ kind: 'suspect', suspicion: { kind: 'plate' } });
  });

  it('is wrong where it can be no pad at all, and says what is accepted', () => {
    const state = judge('85');
    expect(state.kind === 'wrong' ? state.message : '').toContain('up to 21.8 mm is accepted');
  });

  it('is not doubted where nothing is known of the pad', () => {
    expect(judge('3', 'mm', { ...pad, informed: false, sdMm: 3 }).kind).toBe('fine');
    expect(judgeTyped('3', 'mm', undefined, axle, undefined).kind).toBe('fine');
  });

  it('is judged by what is known of the appraiser: one that reads high is not doubted for it', () => {
    const appraiser = { biasMm: 1.4, biasSdMm: 0.05, repeatabilityMm: 0.15 };
    expect(judgeTyped('7.6', 'mm', 0.1, axle, pad, { ...appraiser, biasMm: 0 }).kind).toBe('suspect');
    expect(judgeTyped('7.6', 'mm', 0.1, axle, pad, appraiser).kind).toBe('fine');
  });
});
