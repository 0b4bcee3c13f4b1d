import { describe, expect, it } from '@jest/globals';
import { DEFAULT_DUTY_SETTINGS } from '../duty/index.ts';
import { bedInHeat } from './bedIn.ts';

const settings = { ...DEFAULT_DUTY_SETTINGS.van, rolling: 0, dragAreaM2: 0, rotatingMass: 1 };

describe('bedding in', () => {
  it('takes the kinetic energy of each stop', () => {
    // By hand: 35 mph = 15.6464 m/s; ½ × 2,200 kg × 244.81 = 269.29 kJ with no resistance.
    const heat = bedInHeat({ stops: 5, fromMph: 35, betweenS: 60 }, { massKg: 2200, brakeShare: 0.68 }, settings);
    expect(heat.stopJ / 1000).toBeCloseTo(269.29, 1);
    // Into one rotor of 10 kg: 269.29 × .9 × .68 / 2 = 82.40 kJ a stop, 41.2 kJ/kg over five.
    expect(heat.perKgJ / 1000).toBeCloseTo(41.2, 1);
  });

  it('heats a rotor by Q/(m·c) a stop where it does not cool between', () => {
    // 82.40 kJ / (10 kg × 490 J/(kg·K)) = 16.82 K a stop; five stops from 15 °C: 99.1 °C.
    const still = { ...settings, rotor: { ...settings.rotor, coolingWPerM2K: 0 } };
    const heat = bedInHeat({ stops: 5, fromMph: 35, betweenS: 60 }, { massKg: 2200, brakeShare: 0.68 }, still);
    expect(heat.endC).toBeCloseTo(99.1, 1);
  });

  it('cools by e^(−hAt/mc) between stops', () => {
    // hA = .27 × 60 = 16.2 W/K; after 60 s e^(−972/4900) = .8201 is left: 16.82 × (1 + .8201 + .6726 + .5516 + .4524) = 58.8 K.
    const heat = bedInHeat({ stops: 5, fromMph: 35, betweenS: 60 }, { massKg: 2200, brakeShare: 0.68 }, settings);
    expect(heat.endC - 15).toBeCloseTo(58.8, 0);
  });

  it('of many moderate stops brings three to five times the energy of few firm ones', () => {
    // Common practice, no source: what the trade says of the two habits, here 20 from 30 mph against 4 from 35.
    const vehicle = { massKg: 2200, brakeShare: 0.68 };
    const many = bedInHeat({ stops: 20, fromMph: 30, betweenS: 30 }, vehicle, settings).perKgJ;
    const few = bedInHeat({ stops: 4, fromMph: 35, betweenS: 60 }, vehicle, settings).perKgJ;
    expect(many / few).toBeGreaterThan(3);
    expect(many / few).toBeLessThan(5);
  });
});
