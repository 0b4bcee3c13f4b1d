import { describe, expect, it } from '@jest/globals';
import { DEFAULT_POLICY } from '@mile-mark/core';
import type { AxleDetail } from '@mile-mark/contract/forecasts';
import { bedInFrom, bedInOf, fluidOf } from './queries/cardFigures.ts';

describe('a bedding-in as a pad maker writes it', () => {
  it.each([
    ['5 firm stops from 35 mph, then a mile without braking.', { stops: 5, fromMph: 35, betweenS: 90 }],
    ['20 moderate stops from 30 mph, half a minute of driving between.', { stops: 20, fromMph: 30, betweenS: 30 }],
    ['Six stops from 25 mph with the load of the day, a minute between.', { stops: 6, fromMph: 25, betweenS: 60 }],
    ['As the sheet says.', undefined],
  ])('“%s”', (text, plan) => {
    expect(bedInFrom(text)).toEqual(plan);
  });

  const van = { class: 'van', tareKg: 2150 };
  it('goes before the shop’s habit, where its words can be read, and only while the shop wants it', () => {
    const sheet = '4 stops from 30 mph.';
    expect(bedInOf(van, 0.68, DEFAULT_POLICY, sheet)).toMatchObject({
      stops: 4,
      text: expect.stringContaining('pad maker'),
    });
    expect(bedInOf(van, 0.68, DEFAULT_POLICY, null)).toMatchObject({ stops: 5, fromMph: 35 });
    expect(bedInOf(van, 0.68, DEFAULT_POLICY, 'Gently.')).toMatchObject({ stops: 5 });
    expect(bedInOf(van, 0.68, { ...DEFAULT_POLICY, 'bed-in': 'many with cooling' }, sheet)).toMatchObject({
      stops: 20,
    });
  });
});

describe('fluid on a card', () => {
  const axle = (number: number, brake: 'hydraulic' | 'air', meanMm: number) =>
    ({
      axle: number,
      brake,
      brakeDetail: brake === 'air' ? 'air disc' : 'hydraulic sliding',
      pistonsMm: brake === 'air' ? null : '2x51',
      padNewMm: 11,
      rotorNewMm: null,
      decision: null,
      pads: (['left', 'right'] as const).flatMap((side) =>
        (['inner', 'outer'] as const).map((pad) => ({ side, pad, meanMm })),
      ),
    }) as unknown as AxleDetail;
  const pads = new Map([
    [1, [{ action: 'pads' as const, sides: 'both' as const, mandatory: true, rules: [], reason: null }]],
  ]);

  it('is what wear took, and what comes back from the axle that gets new pads', () => {
    // By hand: 4.0856 mL/mm; axle 1 has lost 2 × 6 mm at each of two wheels, axle 2 2 × 2 mm: 98.1 and 32.7 mL.
    const fluid = fluidOf([axle(1, 'hydraulic', 5), axle(2, 'hydraulic', 9)], pads, {
      level: 0.5,
      reservoirMl: undefined,
    });
    expect(fluid?.expectedMl).toBeCloseTo(98.05 + 32.68, 1);
    expect(fluid?.comesBackMl).toBeCloseTo(98.05, 1);
    // 50 mL are missing where 131 were expected: somebody topped it up, and 48 have to be drawn off.
    expect(fluid).toMatchObject({ verdict: 'topped up', betweenMarksMl: 100, marksStated: false });
    expect(fluid?.drawOffMl).toBeCloseTo(48.05, 1);
  });

  it('is reckoned with what the reservoir of the model holds', () => {
    // Half of 240 mL is missing, of which wear explains 131 and 98 come back: nothing was topped up, nothing overflows.
    const fluid = fluidOf([axle(1, 'hydraulic', 5), axle(2, 'hydraulic', 9)], pads, { level: 0.5, reservoirMl: 240 });
    expect(fluid).toMatchObject({ verdict: 'as worn', drawOffMl: 0, betweenMarksMl: 240, marksStated: true });
  });

  it('says nothing before the level is read, and nothing at all of air brakes', () => {
    expect(fluidOf([axle(1, 'hydraulic', 5)], pads, { level: undefined, reservoirMl: 200 })).toMatchObject({
      verdict: null,
      drawOffMl: null,
    });
    expect(fluidOf([axle(1, 'air', 5)], pads, { level: 0.5, reservoirMl: 200 })).toBeNull();
  });
});
