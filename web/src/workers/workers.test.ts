import { describe, expect, it } from '@jest/globals';
import { classPrior, DEFAULT_NOISE, UNKNOWN_APPRAISER, type VehicleInput } from '@mile-mark/core';
import { lookThrough } from './lookThrough.ts';
import { whatIf } from './whatIf.ts';

const task = { vehicleClass: 'van' as const, masses: { tareKg: 2200, gvwrKg: 3500 }, massKg: 2900, retarderShare: 0 };

/** Six stops in a row: 20 s up to 36 km/h, a minute there, 5 s down. */
const drive = (header: string, speedOf: (mps: number) => number, comma = false) => {
  const lines = [header];
  let t = 0;
  const put = (mps: number) =>
    lines.push(
      `${t++}${comma ? ';' : ','}${String(speedOf(mps)).replace('.', comma ? ',' : '.')}${comma ? ';' : ','}100`,
    );
  put(0);
  for (let stop = 0; stop < 6; stop += 1) {
    for (let k = 1; k <= 20; k += 1) put(k / 2);
    for (let k = 0; k < 60; k += 1) put(10);
    for (let k = 1; k <= 5; k += 1) put(10 - 2 * k);
    for (let k = 0; k < 8; k += 1) put(0);
  }
  return lines.join('\n');
};

describe('a trace in the worker', () => {
  it.each([
    ['km/h', drive('time_s,speed_kmh,altitude_m', (v) => v * 3.6)],
    ['mph', drive('Time,Speed_MPH,Elevation', (v) => (v * 3600) / 1609.344)],
    ['m/s with semicolons and decimal commas', drive('seconds;speed_mps;altitude_m', (v) => v + 0.0, true)],
  ])('reads %s', (_name, csv) => {
    const answer = lookThrough({ ...task, csv });
    expect(answer.ok).toBe(true);
    if (!answer.ok) return;
    expect(answer.findings.events.map(({ kind }) => kind)).toEqual(Array(6).fill('stop'));
    // 20 s at a mean of 5 m/s, 60 s at 10, 5 s at 5; at one sample a second the way to the second step counts too.
    expect(answer.findings.miles * 1609.344).toBeGreaterThan(6 * 700);
    expect(answer.findings.miles * 1609.344).toBeLessThan(6 * 750);
    expect(answer.findings.duty.mphBeforeStop).toBeCloseTo((10 * 3600) / 1609.344, 1);
  });

  it.each([
    ['no speed', 'time_s,altitude_m\n0,1\n1,1', /No column of speed.*speed_kmh/],
    ['a figure that is none', 'time_s,speed_kmh,altitude_m\n0,0,1\n1,fast,1', /Line 3: “fast” is no figure of speed/],
    ['time that stands', 'time_s,speed_kmh,altitude_m\n0,0,1\n0,1,1', /Line 3: time does not rise/],
    ['hardly a drive', 'time_s,speed_kmh,altitude_m\n0,0,1\n1,1,1', /Less than half a mile/],
    ['nothing', '', /No column/],
  ])('says what is wrong with %s', (_name, csv, message) => {
    const answer = lookThrough({ ...task, csv });
    expect(answer).toMatchObject({ ok: false, message: expect.stringMatching(message) });
  });
});

const input: VehicleInput = {
  axles: [
    {
      axle: 1,
      newMm: 11,
      plateMm: 5.8,
      limitMm: 2.75,
      prior: { ...classPrior('light'), sdVehicle: 0.3, sdAxle: 0.12 },
    },
  ],
  readings: [],
  fittings: [{ date: '2026-01-01', miles: 10_000, axle: 1 }],
  odometers: [{ date: '2026-07-01', miles: 20_000 }],
  duty: [{ from: '2026-01-01', severity: 1 }],
  appraisers: {},
  unknownAppraiser: UNKNOWN_APPRAISER,
  noise: DEFAULT_NOISE,
  today: '2026-07-01',
};
const policy = { riskTarget: 0.05, seed: 1, draws: 512 };
const ask = (more: object, key = 'a') => whatIf({ key, axle: 1, input, policy, asItIs: { input, policy }, ...more });

describe('what if', () => {
  it('is as it is where nothing is asked', () => {
    const answer = ask({});
    expect(answer.ok && answer.then).toEqual(answer.ok && answer.now);
  });

  it('comes sooner with a harder duty or a higher limit, later with more risk, and leaves what is as it is', () => {
    const mark = (answer: ReturnType<typeof ask>) => (answer.ok ? answer.then.markMiles : NaN);
    const now = mark(ask({}));
    const harder = { ...input, duty: [...input.duty, { from: '2026-07-02', severity: 2 }] };
    expect(mark(ask({ input: harder }))).toBeLessThan(now);
    // Twice the work a mile: half the miles that are left, but for the day before it begins.
    expect((mark(ask({ input: harder })) - 20_000) / (now - 20_000)).toBeCloseTo(0.5, 1);
    expect(mark(ask({ input: { ...input, axles: [{ ...input.axles[0], limitMm: 4 }] } }))).toBeLessThan(now);
    expect(mark(ask({ policy: { ...policy, riskTarget: 0.3 } }))).toBeGreaterThan(now);
    const answer = ask({ input: harder });
    expect(answer.ok && answer.now.markMiles).toBe(now);
  });

  it('says where there is no such axle', () => {
    expect(ask({ axle: 4 })).toEqual({ ok: false, message: 'There is no axle 4.' });
  });
});
