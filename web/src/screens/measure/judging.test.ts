import { describe, expect, it } from '@jest/globals';
import type { AxleDetail, Gauge, PadDetail } from '@mile-mark/contract';
import { judgeTyped } from './judging.ts';

const axle = { padNewMm: 11, backingPlateMm: 5.8 } as AxleDetail;
const gauge = { resolutionMm: 0.1 } as Gauge;
const pad = { meanMm: 6.2, sdMm: 0.25, trace: [{ date: '2026-01-01', miles: 1, meanMm: 6.2, sdMm: 0.2 }] } as PadDetail;
const judge = (typed: string, unit: 'mm' | '1/32 in' = 'mm', known: PadDetail | undefined = pad) =>
  judgeTyped(typed, unit, gauge, axle, known);

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
    expect(judge('3', 'mm', { ...pad, trace: [], sdMm: 3 }).kind).toBe('fine');
    expect(judgeTyped('3', 'mm', undefined, axle, undefined).kind).toBe('fine');
  });
});
