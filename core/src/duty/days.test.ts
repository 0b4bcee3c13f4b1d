import { describe, expect, it } from '@jest/globals';
import { DEFAULT_DUTY_SETTINGS, dutyOfDays, slowdownWork, workPerMile, type DrivenDay } from './index.ts';
import { MPS_PER_MPH } from '../units/index.ts';

const masses = { tareKg: 2200, gvwrKg: 3500 };
const unseen = { retarderShare: 0.1, towedKg: 0 };
const day = (more: Partial<DrivenDay> = {}): DrivenDay => ({
  miles: 50,
  stops: 100,
  stopMph: 30,
  slowdowns: 20,
  slowdownFromMph: 40,
  slowdownToMph: 25,
  massKg: 2850,
  descentM: 250,
  longestDescentM: 40,
  ...more,
});

describe('the duty of driven days', () => {
  it('counts over miles, weighs mass by miles, and takes what is not seen from what is stated', () => {
    const duty = dutyOfDays(
      [day(), day({ miles: 150, stops: 100, massKg: 3250, longestDescentM: 90 })],
      masses,
      unseen,
    );
    expect(duty).toMatchObject({ stopsPerMile: 1, descentMPerMile: 2.5, retarderShare: 0.1, longestDescentM: 90 });
    // 2,850 kg for 50 miles and 3,250 for 150: 3,150 kg, 950 of 1,300 of payload.
    expect(duty?.payloadShare).toBeCloseTo(950 / 1300, 9);
  });

  it('keeps the energy of stops from different speeds', () => {
    const settings = { ...DEFAULT_DUTY_SETTINGS.van, rolling: 0, dragAreaM2: 0 };
    const days = [day({ stopMph: 20, slowdowns: 0, descentM: 0 }), day({ stopMph: 40, slowdowns: 0, descentM: 0 })];
    const duty = dutyOfDays(days, masses, { retarderShare: 0, towedKg: 0 });
    const each = (mph: number) =>
      slowdownWork({ massKg: 2850, fromMps: mph * MPS_PER_MPH, toMps: 0, deceleration: 2, retarderShare: 0 }, settings)
        .brakeJ;
    expect(duty && workPerMile(masses, duty, settings).totalJ).toBeCloseTo((100 * each(20) + 100 * each(40)) / 100, 3);
  });

  it('takes the trailer out of the payload, and says nothing of days that were not driven', () => {
    expect(dutyOfDays([day()], masses, { retarderShare: 0, towedKg: 650 })?.payloadShare).toBe(0);
    expect(dutyOfDays([], masses, unseen)).toBeUndefined();
    expect(dutyOfDays([day({ miles: 0 })], masses, unseen)).toBeUndefined();
  });
});
