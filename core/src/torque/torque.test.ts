import { describe, expect, it } from '@jest/globals';
import Qty from 'js-quantities';
import fc from 'fast-check';
import { NM_PER_LBF_FT, parseTorque, torqueIn, torqueToNm, torqueUnitOf } from '../units/index.ts';
import {
  adapterSetting,
  calibratedRange,
  differingFigures,
  fitJoint,
  fitTorque,
  hardestMiss,
  flatsOf,
  judgeHead,
  judgeJoint,
  multiplierSetting,
  pairConflicts,
  pairDifference,
  parseHead,
  parseThread,
  roundedTorque,
  settingFor,
  stressArea,
  targetNm,
  threadAdvance,
  tighteningTorque,
  usualTorque,
  type Bench,
  type HeadKind,
  type JointFacts,
  type JointTorque,
  type Thread,
  type TorqueWrench,
} from './index.ts';

const TODAY = '2026-11-20';
const thread = (typed: string): Thread => {
  const parsed = parseThread(typed);
  if (!parsed) throw new Error(`${typed} was not read`);
  return parsed;
};
const head = (kind: HeadKind, typed: string) => {
  const parsed = parseHead(kind, typed);
  if (!parsed) throw new Error(`${typed} was not read`);
  return parsed;
};

describe('torques as they are typed', () => {
  const codeOf = (typed: string, unit?: 'N·m' | 'lbf·ft') => {
    const parsed = parseTorque(typed, { unit });
    return parsed.ok ? `${parsed.value.value} ${parsed.value.unit}` : parsed.failure.code;
  };

  it.each([
    ['155 lbf·ft', '155 lbf·ft'],
    ['155 ft-lb', '155 lbf·ft'],
    ['155 lb ft', '155 lbf·ft'],
    ['155ft lbs', '155 lbf·ft'],
    ['210Nm', '210 N·m'],
    ['8,5 N·m', '8.5 N·m'],
    ['90 in-lb', '90 lbf·in'],
    ['90 lbf.in', '90 lbf·in'],
  ])('%s is read as %s', (typed, meant) => expect(codeOf(typed)).toBe(meant));

  it.each([
    ['155', 'unit_missing'],
    ['-3 Nm', 'negative'],
    ['0 Nm', 'out_of_range'],
    ['20000 Nm', 'out_of_range'],
    ['155 psi', 'unit_unknown'],
    ['tight', 'not_a_number'],
    ['', 'empty'],
    ['1,200 Nm', 'ambiguous'],
  ])('%s is refused: %s', (typed, code) => expect(codeOf(typed)).toBe(code));

  it('takes the unit of its column, and refuses another', () => {
    expect(codeOf('155', 'lbf·ft')).toBe('155 lbf·ft');
    expect(codeOf('155 Nm', 'lbf·ft')).toBe('unit_contradicts');
  });

  it('converts as NIST SP 811 and a general unit library do', () => {
    expect(NM_PER_LBF_FT).toBeCloseTo(1.3558179483314, 12);
    fc.assert(
      fc.property(fc.double({ min: 0.1, max: 1500, noNaN: true }), (value) => {
        // The library rounds a pound-force to seven digits (4.448222 N).
        const by = (arm: string) => Qty(value, 'lbf').mul(Qty(arm)).to('N*m').scalar;
        expect(torqueToNm(value, 'lbf·ft') / by('1 ft')).toBeCloseTo(1, 6);
        expect(torqueToNm(value, 'lbf·in') / by('1 in')).toBeCloseTo(1, 6);
        expect(torqueIn(torqueToNm(value, 'lbf·in'), 'lbf·in')).toBeCloseTo(value, 8);
      }),
    );
  });

  it('knows no unit in other words', () => expect(torqueUnitOf('bar')).toBeUndefined());
});

describe('stated pairs of units', () => {
  // Common practice, no source: pairs as shops round them.
  it.each([
    [130, 176],
    [24, 32],
    [135, 183],
    [144, 196],
  ])('%d lbf·ft = %d N·m is a rounded pair', (lbfFt, nm) =>
    expect(pairConflicts({ value: lbfFt, unit: 'lbf·ft' }, { value: nm, unit: 'N·m' })).toBe(false),
  );

  it('that differ by more than 2 % conflict, whichever is stated first', () => {
    const first = { value: 27, unit: 'lbf·ft' } as const;
    const second = { value: 30, unit: 'N·m' } as const;
    expect(pairConflicts(first, second)).toBe(true);
    expect(pairConflicts(second, first)).toBe(true);
    expect(pairDifference(first, second)).toBeCloseTo(30 / (27 * 1.3558179483314) - 1, 12);
  });
});

describe('threads', () => {
  it.each([
    ['M12x1.5', 12, 1.5],
    ['M14 × 1,5', 14, 1.5],
    ['m10', 10, 1.5],
    ['1/2-20', 12.7, 1.27],
    ['7/16-20 UNF', 11.1125, 1.27],
  ])('%s', (typed, diameterMm, pitchMm) => {
    expect(thread(typed).diameterMm).toBeCloseTo(diameterMm, 9);
    expect(thread(typed).pitchMm).toBeCloseTo(pitchMm, 9);
  });

  it.each(['12x1.5', 'M12x9', 'M12x0.1', 'M300', 'G1/4', '1/2', ''])('%s is none', (typed) =>
    expect(parseThread(typed)).toBeUndefined(),
  );

  // Stress areas of ISO 898-1, table of coarse and fine threads, mm²; from memory.
  it.each([
    ['M6', 20.1],
    ['M8', 36.6],
    ['M10', 58.0],
    ['M12', 84.3],
    ['M14', 115],
    ['M16', 157],
    ['M20', 245],
    ['M12x1.5', 88.1],
    ['M22x1.5', 333],
  ])('%s has a stress area of %d mm²', (typed, area) => {
    expect(stressArea(thread(typed)) / area).toBeCloseTo(1, 2);
  });

  it('advances by its pitch in a whole turn', () =>
    expect(threadAdvance(thread('M12x1.5'), 90)).toBeCloseTo(0.375, 12));
});

describe('what fasteners usually take', () => {
  // Tightening torques of VDI 2230-1, coarse thread, friction 0.12, hexagon heads, N·m; from memory, to 10 %.
  it.each([
    ['M6', '8.8', 9.9],
    ['M8', '8.8', 24],
    ['M10', '8.8', 48],
    ['M12', '8.8', 83],
    ['M14', '8.8', 132],
    ['M16', '8.8', 206],
    ['M8', '10.9', 35],
    ['M10', '10.9', 71],
    ['M12', '10.9', 122],
    ['M12', '12.9', 143],
    ['M16', '10.9', 302],
  ] as const)('%s, class %s, about %d N·m', (typed, strength, nm) => {
    const ratio = tighteningTorque(thread(typed), strength, 0.12) / nm;
    expect(ratio).toBeGreaterThan(0.9);
    expect(ratio).toBeLessThan(1.1);
  });

  it('rises with friction, strength and size', () => {
    const m10 = thread('M10');
    expect(tighteningTorque(m10, '8.8', 0.2)).toBeGreaterThan(tighteningTorque(m10, '8.8', 0.1));
    expect(tighteningTorque(m10, '10.9', 0.12)).toBeGreaterThan(tighteningTorque(m10, '8.8', 0.12));
    expect(tighteningTorque(thread('M12'), '8.8', 0.12)).toBeGreaterThan(tighteningTorque(m10, '8.8', 0.12));
    expect(tighteningTorque(thread('1/2-20'), 'grade 8', 0.12)).toBeGreaterThan(
      tighteningTorque(thread('1/2-20'), 'grade 5', 0.12),
    );
  });

  it('holds the trade’s own figures', () => {
    // Common practice, no source: bracket bolts 37 to 155 lbf·ft, wheel nuts 80 to 135, heavy trucks 450 to 500.
    const within = (typed: string, lbfFt: number) => {
      const { leastNm, mostNm } = usualTorque(thread(typed));
      return torqueToNm(lbfFt, 'lbf·ft') >= leastNm && torqueToNm(lbfFt, 'lbf·ft') <= mostNm;
    };
    expect(within('M12x1.5', 37)).toBe(true);
    expect(within('M14x1.5', 155)).toBe(true);
    expect(within('M12x1.5', 80)).toBe(true);
    expect(within('M14x1.5', 135)).toBe(true);
    expect(within('M22x1.5', 450)).toBe(true);
    expect(within('M22x1.5', 500)).toBe(true);
    expect(within('M8', 155)).toBe(false);
    expect(within('M14x1.5', 12)).toBe(false);
  });
});

describe('heads', () => {
  it('are read with and without units', () => {
    expect(head('hex', '21')).toEqual({ kind: 'hex', acrossMm: 21, size: '21 mm' });
    expect(head('hex', '13/16"').acrossMm).toBeCloseTo(20.6375, 9);
    expect(head('six-lobe', 't50').size).toBe('T50');
    expect(parseHead('six-lobe', 'E14')).toBeUndefined();
    expect(parseHead('hex', 'T50')).toBeUndefined();
    expect(parseHead('hex', '0')).toBeUndefined();
  });

  it('over a thread are wider than it, within it narrower', () => {
    expect(judgeHead(thread('M14x1.5'), head('hex', '13'))).toMatchObject({ kind: 'impossible', outside: true });
    expect(judgeHead(thread('M8'), head('hex key', '8'))).toMatchObject({ kind: 'impossible', outside: false });
    expect(judgeHead(thread('M6'), head('hex', '21'))).toMatchObject({ kind: 'impossible' });
    expect(judgeHead(thread('M12x1.5'), head('hex', '19'))).toBeUndefined();
    expect(judgeHead(thread('1/2-20'), head('hex', '13/16 in'))).toBeUndefined();
  });

  it('off the list of their thread are unusual', () => {
    expect(judgeHead(thread('M14x1.5'), head('hex', '24'))).toMatchObject({ kind: 'unusual' });
    expect(judgeHead(thread('M8'), head('six-lobe', 'T45'))).toBeUndefined();
  });

  it('of bleeders may be as narrow as the thread', () =>
    expect(judgeHead(thread('M10x1'), head('hex', '10'), { hollow: true })).toBeUndefined());
});

const plain: JointTorque = {
  unit: 'lbf·ft',
  least: null,
  nominal: 155,
  most: null,
  passes: [],
  angleDeg: null,
  statedToo: null,
};
const facts = (torque: Partial<JointTorque>, rest: Partial<JointFacts> = {}): JointFacts => ({
  thread: 'M14x1.5',
  strength: null,
  headKind: 'hex',
  headSize: '21 mm',
  hollow: false,
  ...rest,
  torque: { ...plain, ...torque },
});
const codes = (judged: JointFacts) => judgeJoint(judged).map(({ field, weight, code }) => `${field} ${weight} ${code}`);

describe('a joint as it is entered', () => {
  it('passes where all agree', () => expect(codes(facts({ least: 148, most: 162 }))).toEqual([]));
  it('refuses least above most', () =>
    expect(codes(facts({ least: 160, nominal: null, most: 150 }))).toContain('least refused order'));
  it('refuses a nominal outside its range', () => {
    expect(codes(facts({ least: 160 }))).toEqual(['nominal refused order']);
    expect(codes(facts({ most: 150 }))).toEqual(['nominal refused order']);
  });
  it('refuses passes that do not rise to the last', () => {
    expect(codes(facts({ passes: [50, 100] }))).toEqual([]);
    expect(codes(facts({ passes: [100, 50] }))).toEqual(['passes refused passes']);
    expect(codes(facts({ passes: [160] }))).toEqual(['passes refused passes']);
  });
  it('refuses a unit without a figure', () =>
    expect(codes(facts({ nominal: null }))).toEqual(['nominal refused figure_missing']));
  it('refuses a thread and a head it can’t read, and a head no such thread has', () => {
    expect(codes(facts({}, { thread: '14' }))).toEqual(['thread refused thread_unread']);
    expect(codes(facts({}, { headSize: 'big' }))).toEqual(['headSize refused head_unread']);
    expect(codes(facts({}, { headSize: '13 mm' }))).toEqual(['headSize refused head_impossible']);
  });
  it('questions a torque far outside what the thread takes, but not a seating torque before an angle', () => {
    expect(codes(facts({ nominal: 500 }))).toEqual(['nominal question torque_unusual']);
    expect(codes(facts({ nominal: 15 }))).toEqual(['nominal question torque_unusual']);
    expect(codes(facts({ nominal: 15, angleDeg: 90 }))).toEqual([]);
  });
  it('holds a stated pair against itself', () => {
    expect(codes(facts({ statedToo: { unit: 'N·m', value: 210 } }))).toEqual([]);
    expect(codes(facts({ statedToo: { unit: 'N·m', value: 183 } }))).toEqual(['statedToo conflict pair']);
    expect(codes(facts({ statedToo: { unit: 'lbf·ft', value: 155 } }))).toEqual(['statedToo refused same_unit']);
  });
  it('has a target only where a figure is known', () => {
    expect(targetNm(null)).toBeUndefined();
    expect(targetNm({ ...plain, nominal: null })).toBeUndefined();
    expect(targetNm({ ...plain, unit: 'N·m', nominal: null, least: 100, most: 120 })).toBe(110);
  });
});

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
    const torque = { ...plain, unit: 'N·m' as const, nominal: 650, passes: [100, 250] };
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

describe('figures typed twice', () => {
  it('differ where one typed another figure, or left one out', () => {
    expect(differingFigures({ nominal: 155, unit: 'lbf·ft' }, { nominal: 155, unit: 'lbf·ft' })).toEqual([]);
    expect(differingFigures({ nominal: 155, unit: 'lbf·ft' }, { nominal: 150, unit: 'N·m' })).toEqual([
      'nominal',
      'unit',
    ]);
    expect(differingFigures({ nominal: 155, least: null }, { nominal: 155, least: 148 })).toEqual(['least']);
    expect(differingFigures({ nominal: 155, angleDeg: 90 }, { nominal: 155 })).toEqual(['angleDeg']);
    expect(differingFigures({}, { angleDeg: 90 })).toEqual(['angleDeg']);
  });
});
