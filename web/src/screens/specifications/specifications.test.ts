import { describe, expect, it } from '@jest/globals';
import type { Specification } from '@mile-mark/contract/specifications';
import { parseAsked } from './find.ts';
import { workOut } from './calculate.ts';
import { byCause, type Unreached } from './causes.ts';
import { fitmentInWords } from './fitment.ts';
import { fastenerInWords, howFar, rowsOf } from './libraryRows.ts';
import {
  axleDraftOf,
  jointDraftOf,
  readAxle,
  readJoint,
  readSource,
  readTorque,
  torqueDraftOf,
  NO_TORQUE,
} from './draft.ts';

const UNITS = new Set(['P06', 'T01', 'T 01', 'V1']);

describe('what is typed to look a sheet up', () => {
  it.each([
    ['p06', 'P06', undefined],
    [' P06 2 ', 'P06', 2],
    ['P06/1', 'P06', 1],
    ['T01 axle 3', 'T01', 3],
    ['T 01', 'T 01', undefined],
    ['t 01 2', 'T 01', 2],
    ['V1 1', 'V1', 1],
  ])('%s', (typed, unit, axle) => expect(parseAsked(typed, UNITS)).toEqual({ unit, axle }));
  it.each(['', 'P07', 'P06 9', '2'])('“%s” is no unit of the depot', (typed) =>
    expect(parseAsked(typed, UNITS)).toBeUndefined(),
  );
});

describe('the calculator', () => {
  const result = (sum: Parameters<typeof workOut>[0], typed: Record<string, string>) => {
    const worked = workOut(sum, typed);
    return worked.ok ? worked.result[0] : `${worked.field}: refused`;
  };
  it('converts, with the exact factor', () => {
    expect(result('units', { torque: '130 lbf·ft' })).toBe('176.3 N·m');
    expect(result('units', { torque: '130' })).toBe('torque: refused');
  });
  it('reckons an adapter by the arms’ ratio', () => {
    // Balance of moments: 430 / (430 + 90) of 155.
    expect(result('adapter', { torque: '155 lbf·ft', length: '430', extension: '90', turn: '0' })).toBe(
      `Set ${Number(((155 * 430) / 520).toPrecision(4))} lbf·ft`,
    );
    expect(result('adapter', { torque: '155 lbf·ft', length: '430', extension: '90', turn: '90' })).toBe(
      'Set 155 lbf·ft',
    );
    expect(result('adapter', { torque: '155 lbf·ft', length: '43', extension: '90', turn: '0' })).toBe(
      'length: refused',
    );
  });
  it('divides by a ratio, and refuses one below one', () => {
    expect(result('multiplier', { torque: '650 N·m', ratio: '5' })).toBe('Set 130 N·m');
    expect(result('multiplier', { torque: '650 N·m', ratio: '0.5' })).toBe('ratio: refused');
  });
  it('turns an angle into flats and travel', () => {
    const worked = workOut('angle', { angle: '90', thread: 'M12x1.5' });
    expect(worked.ok && worked.result).toEqual(['1.5 flats of a hexagon', '0.375 mm further in']);
    expect(result('angle', { angle: '0', thread: 'M12' })).toBe('angle: refused');
    expect(result('angle', { angle: '90', thread: '12' })).toBe('thread: refused');
  });
});

describe('a torque as typed', () => {
  it('of nothing at all is unknown, and without a unit refused', () => {
    expect(readTorque(NO_TORQUE)).toEqual({ torque: null, wrong: {} });
    expect(readTorque({ ...NO_TORQUE, nominal: '155' }).wrong).toHaveProperty('unit');
    expect(readTorque({ ...NO_TORQUE, unit: 'N·m', nominal: '155 lbf·ft' }).wrong).toHaveProperty('nominal');
    expect(readTorque({ ...NO_TORQUE, unit: 'N·m', nominal: '-5' }).wrong.nominal).toContain('below zero');
  });
  it('keeps every figure', () => {
    const torque = {
      unit: 'lbf·ft' as const,
      least: 120.5,
      nominal: 130,
      most: 140,
      passes: [50, 100],
      angleDeg: 45,
      statedToo: { unit: 'N·m' as const, value: 176 },
    };
    const draft = torqueDraftOf(torque);
    expect(readTorque(draft)).toEqual({ torque, wrong: {} });
    expect(readTorque({ ...draft, passes: '50 100' }).torque?.passes).toEqual([50, 100]);
    expect(readTorque({ ...draft, passes: '50,5, 100' }).torque?.passes).toEqual([50.5, 100]);
  });
});

describe('a joint as typed', () => {
  const draft = {
    ...jointDraftOf(undefined),
    thread: 'M14x1.5',
    headKind: 'hex',
    headSize: '21 mm',
    unit: 'lbf·ft' as const,
    nominal: '155',
  };
  it('leaves what is blank unknown', () => {
    const { values, wrong, questions, conflict } = readJoint(draft, false);
    expect([wrong, questions, conflict]).toEqual([{}, [], undefined]);
    expect(values).toMatchObject({
      fastener: { thread: 'M14x1.5', strength: null, count: null },
      oneTimeUse: null,
      preparation: null,
      recheckMiles: null,
    });
    expect(jointDraftOf(values?.about === 'joint' ? values : undefined)).toEqual(draft);
  });
  it('says at the field what is wrong', () => {
    expect(readJoint({ ...draft, headSize: '13' }, false).wrong.headSize).toContain('No fastener is so');
    expect(readJoint({ ...draft, least: '160' }, false).wrong.nominal).toContain('must rise');
    expect(readJoint({ ...draft, count: '2.5' }, false).values).toBeUndefined();
    expect(readJoint({ ...draft, count: 'two' }, false).wrong).toHaveProperty('count');
  });
  it('questions what is odd, and leaves a contradiction to whoever releases', () => {
    expect(readJoint({ ...draft, nominal: '700' }, false).questions.map(({ code }) => code)).toEqual([
      'torque_unusual',
    ]);
    const pair = readJoint({ ...draft, statedToo: '183 N·m' }, false);
    expect(pair.values).toBeDefined();
    expect(pair.conflict).toContain('13 %');
  });
  it('that is not there has no torque', () =>
    expect(readJoint({ ...draft, absent: true }, false).values).toMatchObject({ absent: true, torque: null }));
});

describe('an axle and a source as typed', () => {
  it('keep figures and blanks apart', () => {
    const { values } = readAxle({ ...axleDraftOf(undefined), padMinMm: '2,5', fluidGrade: ' DOT 4 ' });
    expect(values).toMatchObject({ padMinMm: 2.5, rotorDiscardMm: null, fluidGrade: 'DOT 4' });
    expect(readAxle({ ...axleDraftOf(undefined), runoutMm: '5' }).wrong).toHaveProperty('runoutMm');
  });
  it('need document, page, revision and date', () => {
    expect(Object.keys(readSource({ document: '', page: ' ', revision: '', date: '' }))).toEqual([
      'document',
      'page',
      'revision',
      'date',
    ]);
    expect(readSource({ document: 'Manual', page: '12', revision: 'C', date: '2023-06-01' })).toEqual({});
  });
});

describe('rows of the library', () => {
  const kind = (name: string, brake: 'hydraulic' | 'air' | null, expected: boolean) => ({
    id: name,
    name,
    brake,
    expected,
    hollow: false,
  });
  const kinds = [
    kind('Wheel nut', null, true),
    kind('Bracket bolt', 'hydraulic', true),
    kind('Rotor screw', 'hydraulic', false),
    kind('Carrier bolt', 'air', true),
  ];
  const specification = (joint: (typeof kinds)[number] | null, position = ''): Specification => ({
    id: `${joint?.name ?? 'axle'} ${position}`,
    modelId: 'm',
    model: 'Model',
    axle: 1,
    joint,
    position,
    released: null,
    open: null,
    revisions: 1,
  });

  it('are the axle, its expected joints, known or not, and those that somebody entered', () => {
    const rows = rowsOf(kinds, 'hydraulic', [
      specification(kinds[1] ?? null, 'upper'),
      specification(kinds[1] ?? null, 'lower'),
    ]);
    expect(rows.map(({ name, specification: there }) => [name, there !== undefined])).toEqual([
      ['Limits, fluid, bed-in', false],
      ['Wheel nut', false],
      ['Bracket bolt, upper', true],
      ['Bracket bolt, lower', true],
    ]);
    expect(rowsOf(kinds, 'air', []).map(({ name }) => name)).toEqual([
      'Limits, fluid, bed-in',
      'Wheel nut',
      'Carrier bolt',
    ]);
    expect(rowsOf(kinds, 'hydraulic', [specification(kinds[2] ?? null)]).map(({ name }) => name)).toContain(
      'Rotor screw',
    );
  });

  it('say how far a model is', () => {
    const axle = { axle: 1, brake: 'air' as const, detail: '', released: 5, lacking: 0, open: 0 };
    const model = {
      id: 'm',
      name: 'M',
      class: 'heavy',
      gvwrKg: 26_000,
      revision: 1,
      fitment: { drive: null, wheelbaseMm: null, builtFrom: null, builtTo: null, axleOption: null },
      vehicles: 1,
    };
    expect(howFar({ ...model, axles: [axle] })).toBe('1 vehicle · complete');
    expect(howFar({ ...model, vehicles: 3, axles: [axle, { ...axle, lacking: 2, open: 1 }] })).toBe(
      '3 vehicles · 2 unknown · 1 to release',
    );
  });

  it('say a fastener and a fitment as far as they are known', () => {
    const bare = { thread: null, strength: null, headKind: null, headSize: null, count: null, counterHold: null };
    expect(fastenerInWords({ ...bare, thread: 'M14x1.5', headSize: '21 mm', count: 5 })).toBe('5 × M14x1.5, 21 mm');
    expect(fastenerInWords({ ...bare, headSize: '21 mm' })).toBe('21 mm');
    expect(fastenerInWords({ ...bare, count: 5 })).toBe('');
    expect(
      fitmentInWords({ drive: '4x2', wheelbaseMm: 3100, builtFrom: '2023-01-05', builtTo: null, axleOption: null }),
    ).toBe('4x2, wheelbase 3,100 mm, built from 5 Jan 2023');
    expect(
      fitmentInWords({ drive: null, wheelbaseMm: null, builtFrom: null, builtTo: '2024-12-31', axleOption: 'light' }),
    ).toBe('light, built to 31 Dec 2024');
  });
});

describe('what keeps jobs from being done', () => {
  const row = (rest: Partial<Unreached>): Unreached => ({
    depot: 'Depot',
    model: 'Model',
    axles: [1],
    joint: 'Wheel nut',
    torque: '650 N·m',
    overdue: null,
    need: 'a longer wrench',
    elsewhere: [],
    vehicles: 2,
    jobs: [],
    ...rest,
  });
  it('stands together by cause: a lapsed tool is one thing to do', () => {
    const late = { tool: 'Medium', due: '2026-10-31' };
    const groups = byCause([
      row({}),
      row({ overdue: late, joint: 'Hose joint' }),
      row({ joint: 'Carrier bolt' }),
      row({ overdue: late, joint: 'Guide pin bolt' }),
      row({ overdue: late, depot: 'Other' }),
    ]);
    expect(groups.map(({ rows }) => rows.map(({ joint }) => joint))).toEqual([
      ['Wheel nut'],
      ['Hose joint', 'Guide pin bolt'],
      ['Carrier bolt'],
      ['Wheel nut'],
    ]);
  });
});
