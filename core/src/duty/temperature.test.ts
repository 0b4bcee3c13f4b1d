import { describe, expect, it } from '@jest/globals';
import {
  DEFAULT_DUTY_SETTINGS,
  rotorRise,
  rotorTemperature,
  severity,
  wearAtTemperature,
  workPerMile,
  type Duty,
} from './index.ts';

const settings = DEFAULT_DUTY_SETTINGS.heavy;
const masses = { tareKg: 9000, gvwrKg: 26_000 };
const vale: Duty = {
  stopsPerMile: 0.8,
  mphBeforeStop: 38,
  payloadShare: 0.5,
  descentMPerMile: 6,
  retarderShare: 0.4,
  towedKg: 0,
};
const fell: Duty = { ...vale, descentMPerMile: 40, longestDescentM: 350, retarderShare: 0.1, payloadShare: 0.9 };

describe('rise of a rotor', () => {
  const rotor = { massKg: 10, coolingM2: 0.3, coolingWPerM2K: 50, fadeC: 350, ambientC: 15 };

  // First-order lumped heat: Incropera et al., Fundamentals of Heat and Mass Transfer, §5.1 (lumped capacitance, from memory).
  it('is energy over heat capacity at once, and power over cooling in the end', () => {
    expect(rotorRise(4900, 1, rotor)).toBeCloseTo(1, 2);
    expect(rotorRise(4900, 1, { ...rotor, coolingM2: 0 })).toBeCloseTo(4900 / (10 * 490), 9);
    expect(rotorRise(3000, 1e6, rotor)).toBeCloseTo(3000 / (0.3 * 50), 6);
  });

  it('follows the differential equation m·c·dT/dt = P − hA·T, integrated numerically', () => {
    let kelvin = 0;
    const dt = 0.01;
    for (let t = 0; t < 300; t += dt) kelvin += ((6000 - 15 * kelvin) / (10 * 490)) * dt;
    expect(rotorRise(6000, 300, rotor)).toBeCloseTo(kelvin, 1);
  });
});

describe('temperatures of a duty', () => {
  it('have the mean of power over cooling and the stop of its energy', () => {
    const found = rotorTemperature(masses, vale, settings, 0.4);
    const { stopsJ, totalJ } = workPerMile(masses, vale, settings);
    const rise = (stopsJ / vale.stopsPerMile) * 0.9 * 0.2;
    expect(found.stopRiseK).toBeCloseTo(rise / (settings.rotor.massKg * 490), 6);
    const seconds = 3600 / (0.6 * 38);
    expect(found.meanC - 15).toBeCloseTo(((totalJ / seconds) * 0.9 * 0.2) / (0.75 * 60), 2);
    expect(found.fades).toBeUndefined();
  });

  it('take the stated longest descent, and else what is descended in a while', () => {
    const rise = (duty: Duty) => rotorTemperature(masses, duty, settings, 0.4).descentRiseK;
    const { stopsPerMile: _stops, ...free } = fell;
    const stated = (metres: number) => rise({ ...free, stopsPerMile: 0, longestDescentM: metres });
    expect(stated(700)).toBeGreaterThan(1.15 * stated(350));
    // The rise follows 1 − e^(−t/T) with t in proportion to the height: two heights tell the third.
    const kept = 1 - stated(350) / stated(1e6);
    expect(stated(700) / stated(1e6)).toBeCloseTo(1 - kept ** 2, 6);
    const unstated = rise({ ...fell, longestDescentM: undefined });
    expect(unstated).not.toBeCloseTo(rise(fell), 3);
  });

  it('warn of a long descent with a load, and less so with the retarder', () => {
    const hot = rotorTemperature(masses, fell, settings, 0.4);
    expect(hot.fades).toBe('descent');
    expect(hot.peakC).toBeGreaterThan(hot.fadeC);
    const retarded = rotorTemperature(masses, { ...fell, retarderShare: 0.8 }, settings, 0.4);
    expect(retarded.peakC).toBeLessThan(hot.peakC);
    expect(retarded.fades).toBeUndefined();
  });

  it('wear more where it is hot, doubling every 100 °C over 200', () => {
    expect([20, 200, 300, 400].map(wearAtTemperature)).toEqual([1, 1, 2, 4]);
    const byWork = severity(masses, fell, vale, settings);
    expect(severity(masses, fell, vale, settings, 0.4)).toBeGreaterThan(byWork);
    expect(severity(masses, vale, vale, settings, 0.4)).toBe(1);
    // An axle that brakes less stays cooler, and wears less for the same work.
    expect(severity(masses, fell, vale, settings, 0.1)).toBeLessThan(severity(masses, fell, vale, settings, 0.4));
  });
});
