import { describe, expect, it } from '@jest/globals';
import Qty from 'js-quantities';
import fc from 'fast-check';
import { NM_PER_LBF_FT, parseTorque, torqueIn, torqueToNm, torqueUnitOf } from '../units/index.ts';
import {
  differingFigures,
  judgeHead,
  judgeJoint,
  pairConflicts,
  pairDifference,
  parseHead,
  parseThread,
  stressArea,
  targetNm,
  threadAdvance,
  tighteningTorque,
  usualTorque,
  type HeadKind,
  type JointFacts,
  type JointTorque,
  type Thread,
} from './index.ts';

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
  it('asks for no torque where the document states none', () =>
    expect(judgeJoint({ ...facts({}), torque: null })).toEqual([]));
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
