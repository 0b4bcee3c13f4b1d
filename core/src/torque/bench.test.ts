import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { torqueToNm } from '../units/index.ts';
import {
  adapterSetting,
  calibratedRange,
  fitJoint,
  fitTorque,
  hardestMiss,
  flatsOf,
  multiplierSetting,
  roundedTorque,
  settingFor,
  type Bench,
  type JointTorque,
  type HeadKind,
  type TorqueWrench,
} from './index.ts';

const TODAY = '2026-11-20';

describe('leverage', () => {
  it('balances the moments of the force at the grip', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 5, max: 900, noNaN: true }),
        fc.double({ min: 150, max: 1200, noNaN: true }),
        fc.double({ min: 10, max: 150, noNaN: true }),
        fc.double({ min: 0, max: 180, noNaN: true }),
        (target, length, extension, turn) => {
          const shown = adapterSetting(target, length, extension, turn);
          // Force at the grip from the moment at the drive; its arm about the fastener lies along the wrench.
          const force = shown / length;
          expect(force * (length + extension * Math.cos((turn * Math.PI) / 180))).toBeCloseTo(target, 6);
        },
      ),
    );
  });
  it('changes nothing at a right angle, and asks more where it is folded back', () => {
    expect(adapterSetting(100, 400, 60, 90)).toBeCloseTo(100, 9);
    expect(adapterSetting(100, 400, 60, 180)).toBeGreaterThan(100);
  });
  it('divides by a multiplier’s ratio', () => expect(multiplierSetting(650, 5)).toBe(130));
  it('counts flats', () => expect(flatsOf(90)).toBe(1.5));
});

const wrench = (rest: Partial<TorqueWrench>): TorqueWrench => ({
  id: 'w',
  name: 'Wrench',
  unit: 'N·m',
  least: 40,
  most: 200,
  graduation: 1,
  lengthMm: 450,
  calibrationDue: '2027-01-01',
  ...rest,
});
const bench = (rest: Partial<Bench>): Bench => ({ wrenches: [], adapters: [], multipliers: [], ...rest });
const at = (nm: number) => ({ nm, leastNm: null, mostNm: null });

describe('the bench', () => {
  it('is calibrated from a fifth of full scale up (ISO 6789-1:2017, from memory)', () => {
    expect(calibratedRange(wrench({ least: 10, most: 200 }))).toEqual({ least: 40, most: 200 });
    expect(calibratedRange(wrench({ least: 60, most: 200 }))).toEqual({ least: 60, most: 200 });
    expect(settingFor(wrench({ least: 10 }), at(39))).toBeUndefined();
    expect(settingFor(wrench({ least: 10 }), at(40))).toEqual({ value: 40, unit: 'N·m' });
    expect(settingFor(wrench({}), at(200))).toEqual({ value: 200, unit: 'N·m' });
    expect(settingFor(wrench({}), at(200.1))).toBeUndefined();
  });

  it('sets on the graduation, and not outside what the specification allows', () => {
    const coarse = wrench({ graduation: 10 });
    expect(settingFor(coarse, at(118))).toEqual({ value: 120, unit: 'N·m' });
    expect(settingFor(coarse, { nm: 115, leastNm: 114, mostNm: 116 })).toBeUndefined();
    expect(settingFor(coarse, at(45))).toBeUndefined();
  });

  it('never answers with less: every setting of every fit gives the target back', () => {
    const tools = bench({
      wrenches: [wrench({}), wrench({ id: 'ft', unit: 'lbf·ft', least: 20, most: 100, graduation: 1, lengthMm: 400 })],
      adapters: [{ id: 'a', name: 'Adapter', extensionMm: 75, mostNm: 400, endSize: null }],
      multipliers: [{ id: 'm', name: 'Multiplier', ratio: 5, mostNm: 1000, calibrationDue: '2027-01-01' }],
    });
    fc.assert(
      fc.property(fc.double({ min: 1, max: 1500, noNaN: true }), (nm) => {
        const fit = fitTorque(at(nm), tools, TODAY);
        if (!('setting' in fit)) return;
        const shown = torqueToNm(fit.setting.value, fit.setting.unit);
        const factor =
          fit.kind === 'adapter'
            ? ((fit.wrench.lengthMm ?? NaN) + fit.adapter.extensionMm) / (fit.wrench.lengthMm ?? NaN)
            : fit.kind === 'multiplier'
              ? fit.multiplier.ratio
              : 1;
        expect(Math.abs(shown * factor - nm) / nm).toBeLessThanOrEqual(0.0400001);
      }),
    );
  });

  it('asks no more of a multiplier than its output may be, whatever the wrench gives', () => {
    const strong = wrench({ id: 'w', least: 80, most: 400, unit: 'N·m', graduation: 1 });
    const multiplier = { id: 'm', name: 'Multiplier', ratio: 4, mostNm: 1000, calibrationDue: '2027-01-01' };
    const fit = (nm: number) =>
      fitTorque({ nm, leastNm: null, mostNm: null }, bench({ wrenches: [strong], multipliers: [multiplier] }), TODAY)
        .kind;
    expect(fit(1000)).toBe('multiplier');
    expect(fit(1001)).not.toBe('multiplier');
  });

  it('reaches 155 lbf·ft with a wrench that ends at 130 only through an adapter or a multiplier', () => {
    const ends = wrench({ unit: 'lbf·ft', least: 30, most: 130, graduation: 1 });
    const target = at(torqueToNm(155, 'lbf·ft'));
    expect(fitTorque(target, bench({ wrenches: [ends] }), TODAY)).toMatchObject({ kind: 'none' });
    const adapter = { id: 'a', name: 'Open end', extensionMm: 100, mostNm: 300, endSize: null };
    expect(fitTorque(target, bench({ wrenches: [ends], adapters: [adapter] }), TODAY)).toMatchObject({
      kind: 'adapter',
      setting: { value: Math.round((155 * 450) / 550), unit: 'lbf·ft' },
    });
    const weak = { ...adapter, mostNm: 150 };
    expect(fitTorque(target, bench({ wrenches: [ends], adapters: [weak] }), TODAY).kind).toBe('none');
    const multiplier = { id: 'm', name: 'Multiplier', ratio: 4, mostNm: 800, calibrationDue: '2027-01-01' };
    expect(fitTorque(target, bench({ wrenches: [ends], multipliers: [multiplier] }), TODAY)).toMatchObject({
      kind: 'multiplier',
      setting: { value: 39 },
    });
  });

  it('takes an adapter with an end of its own only on its own hexagon', () => {
    const ends = wrench({ most: 130, least: 26 });
    const adapter = { id: 'a', name: 'Open end', extensionMm: 100, mostNm: 300, endSize: '21 mm' };
    const on = (kind: HeadKind | null, size: string | null) =>
      fitTorque({ ...at(150), head: { kind, size } }, bench({ wrenches: [ends], adapters: [adapter] }), TODAY).kind;
    expect(on('hex', '21')).toBe('adapter');
    expect(on('hex', '19 mm')).toBe('none');
    expect(on('hex key', '21 mm')).toBe('none');
    expect(on(null, null)).toBe('none');
    expect(fitTorque(at(150), bench({ wrenches: [ends], adapters: [adapter] }), TODAY).kind).toBe('none');
  });

  it('says what is needed', () => {
    const fit = fitTorque(at(650), bench({ wrenches: [wrench({})] }), TODAY);
    expect(fit).toEqual({
      kind: 'none',
      need: { nm: 650, endsNm: 200, ratio: 3.25, coarseNm: null, allowedFromNm: null },
    });
    expect(fitTorque(at(8), bench({ wrenches: [wrench({})] }), TODAY)).toEqual({
      kind: 'none',
      need: { nm: 8, endsNm: 40, ratio: null, coarseNm: null, allowedFromNm: null },
    });
    expect(fitTorque(at(8), bench({}), TODAY)).toEqual({
      kind: 'none',
      need: { nm: 8, endsNm: null, ratio: null, coarseNm: null, allowedFromNm: null },
    });
  });

  it.each([
    [165, 165],
    [176, 176],
    [177, null],
    [null, null],
  ])('never takes the end of a scale for the nominal; that the document allows from %s is told', (leastNm, told) => {
    const ends = bench({ wrenches: [wrench({ least: 26, most: 176 })] });
    expect(fitTorque({ nm: 180, leastNm, mostNm: 195 }, ends, TODAY)).toMatchObject({
      kind: 'none',
      need: { endsNm: 176, allowedFromNm: told },
    });
  });

  it('tells a scale that is too coarse from a range that is too short', () => {
    const coarse = bench({ wrenches: [wrench({ graduation: 20 }), wrench({ id: 'x', graduation: 25 })] });
    expect(fitTorque({ nm: 110, leastNm: 108, mostNm: 112 }, coarse, TODAY)).toMatchObject({
      kind: 'none',
      need: { endsNm: null, coarseNm: 20 },
    });
    const gap = bench({ wrenches: [wrench({ least: 5, most: 25 }), wrench({})] });
    expect(fitTorque(at(30), gap, TODAY)).toMatchObject({ need: { endsNm: 40, coarseNm: null, allowedFromNm: null } });
  });

  it('blocks a wrench whose calibration is overdue or unknown, and says which', () => {
    const late = wrench({ calibrationDue: '2026-11-19' });
    expect(fitTorque(at(100), bench({ wrenches: [late] }), TODAY)).toEqual({
      kind: 'overdue',
      tool: { id: 'w', name: 'Wrench' },
      due: '2026-11-19',
    });
    expect(fitTorque(at(100), bench({ wrenches: [wrench({ calibrationDue: null })] }), TODAY).kind).toBe('overdue');
    expect(fitTorque(at(100), bench({ wrenches: [wrench({ calibrationDue: TODAY })] }), TODAY).kind).toBe('wrench');
    const multiplier = { id: 'm', name: 'Multiplier', ratio: 5, mostNm: 1000, calibrationDue: '2026-01-01' };
    expect(fitTorque(at(650), bench({ wrenches: [wrench({})], multipliers: [multiplier] }), TODAY)).toMatchObject({
      kind: 'overdue',
      tool: { id: 'm' },
    });
  });

  it('takes a multiplier only for torques beyond every wrench of the bench', () => {
    const small = wrench({ id: 'small', least: 5, most: 25, graduation: 0.25 });
    const late = wrench({ id: 'late', least: 12, most: 60, calibrationDue: '2026-01-01' });
    const multiplier = { id: 'm', name: 'Multiplier', ratio: 5, mostNm: 1500, calibrationDue: '2027-01-01' };
    const tools = bench({ wrenches: [small, late, wrench({})], multipliers: [multiplier] });
    expect(fitTorque(at(30), tools, TODAY)).toMatchObject({ kind: 'overdue', tool: { id: 'late' } });
    expect(fitTorque(at(650), tools, TODAY)).toMatchObject({ kind: 'multiplier', setting: { value: 130 } });
  });

  it('must reach every pass of a joint; of what it misses the hardest is told', () => {
    const torque: JointTorque = {
      unit: 'N·m',
      least: null,
      nominal: 650,
      most: null,
      passes: [100, 250],
      angleDeg: null,
      statedToo: null,
    };
    const fits = fitJoint(torque, bench({ wrenches: [wrench({})] }), TODAY);
    expect(fits.map(({ nm, fit }) => [nm, fit.kind])).toEqual([
      [100, 'wrench'],
      [250, 'none'],
      [650, 'none'],
    ]);
    expect(hardestMiss(fits)).toMatchObject({ need: { nm: 650 } });
    expect(hardestMiss(fits.slice(0, 1))).toBeUndefined();
    expect(fitJoint(null, bench({}), TODAY)).toEqual([]);
  });

  it('prefers the finer of two wrenches', () => {
    const fine = wrench({ id: 'fine', graduation: 0.5 });
    expect(fitTorque(at(100), bench({ wrenches: [wrench({}), fine] }), TODAY)).toMatchObject({
      wrench: { id: 'fine' },
    });
  });

  it('rounds to a graduation', () => expect(roundedTorque(torqueToNm(155, 'lbf·ft'), 'N·m', 1)).toBe(210));
});
