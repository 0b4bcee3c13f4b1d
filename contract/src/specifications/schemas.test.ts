import { describe, expect, it } from '@jest/globals';
import { NewCalibration, NewTorqueTool } from './benches.ts';
import { FitmentChange, LibraryFile } from './library.ts';
import { AxleValues, JointValues, NewRevision, ReleaseAttempt } from './schemas.ts';

const ID = '6f1c1c3e-0f4d-4a53-8a55-1de1b9f8f8a1';
const wrongIn = (
  schema: {
    safeParse: (value: unknown) => { success: boolean; error?: { issues: { path: PropertyKey[]; message: string }[] } };
  },
  value: unknown,
) => (schema.safeParse(value).error?.issues ?? []).map(({ path }) => path.map(String).join('.'));

describe('values of a joint', () => {
  it('are unknown where nothing is said, and a blank text is nothing', () => {
    const bare = JointValues.parse({ about: 'joint', fastener: { thread: ' ', headSize: '' }, note: '' });
    expect(bare.fastener).toEqual({
      thread: null,
      strength: null,
      headKind: null,
      headSize: null,
      count: null,
      counterHold: null,
    });
    expect([bare.torque, bare.oneTimeUse, bare.preparation, bare.note, bare.absent]).toEqual([
      null,
      null,
      null,
      null,
      false,
    ]);
  });

  it.each([
    [{ torque: { nominal: 100 } }, 'torque.unit'],
    [{ torque: { unit: 'psi', nominal: 100 } }, 'torque.unit'],
    [{ torque: { unit: 'N·m', nominal: 0 } }, 'torque.nominal'],
    [{ torque: { unit: 'N·m', nominal: '100' } }, 'torque.nominal'],
    [{ torque: { unit: 'N·m', passes: [1, 2, 3, 4, 5] } }, 'torque.passes'],
    [{ torque: { unit: 'N·m', angleDeg: 900 } }, 'torque.angleDeg'],
    [{ fastener: { count: 0 } }, 'fastener.count'],
    [{ fastener: { headKind: 'round' } }, 'fastener.headKind'],
    [{ preparation: 'butter' }, 'preparation'],
    [{ recheckMiles: -1 }, 'recheckMiles'],
  ])('refuse %j at %s', (values, field) =>
    expect(wrongIn(JointValues, { about: 'joint', ...values })).toEqual([field]),
  );

  it('say that a torque without its unit is not accepted', () => {
    const parsed = JointValues.safeParse({ about: 'joint', torque: { nominal: 100 } });
    expect(parsed.error?.issues[0]?.message).toContain('without its unit is not');
  });
});

describe('values of an axle', () => {
  it.each([
    [{ padMinMm: -1 }, 'padMinMm'],
    [{ rotorDiscardMm: 1 }, 'rotorDiscardMm'],
    [{ runoutMm: 3 }, 'runoutMm'],
    [{ bedIn: 'x'.repeat(601) }, 'bedIn'],
  ])('refuse %j', (values, field) => expect(wrongIn(AxleValues, { about: 'axle', ...values })).toEqual([field]));
});

describe('a revision, a release, a file', () => {
  const revision = {
    id: ID,
    modelId: ID,
    axle: 1,
    jointKindId: null,
    values: { about: 'axle' },
    source: { document: 'Manual', page: '1', revision: 'A', date: '2025-01-01' },
  };
  it('needs all four of its source', () => {
    expect(wrongIn(NewRevision, revision)).toEqual([]);
    expect(wrongIn(NewRevision, { ...revision, source: {} })).toEqual([
      'source.document',
      'source.page',
      'source.revision',
      'source.date',
    ]);
    expect(wrongIn(NewRevision, { ...revision, source: { ...revision.source, date: '2025-02-30' } })).toEqual([
      'source.date',
    ]);
    expect(wrongIn(NewRevision, { ...revision, axle: 7 })).toEqual(['axle']);
  });
  it('is settled only with how that is known', () => {
    const attempt = { id: ID, typed: { about: 'joint', torque: null } };
    expect(wrongIn(ReleaseAttempt, attempt)).toEqual([]);
    expect(wrongIn(ReleaseAttempt, { ...attempt, settled: { holds: 'first', why: ' ' } })).toEqual(['settled.why']);
    expect(wrongIn(ReleaseAttempt, { ...attempt, settled: { holds: 'both', why: 'the table' } })).toEqual([
      'settled.holds',
    ]);
  });
  it('of the library names its format and version', () => {
    expect(wrongIn(LibraryFile, { format: 'other', version: 2, specifications: [] })).toEqual(['format', 'version']);
  });
});

describe('torque tools and fitment', () => {
  const wrench = {
    id: ID,
    kind: 'wrench',
    name: 'W',
    depot: 'Depot',
    unit: 'N·m',
    least: 40,
    most: 200,
    graduation: 1,
  };
  it.each([
    [{}, []],
    [{ least: 200 }, ['least']],
    [{ graduation: 21 }, ['graduation']],
    [{ unit: undefined }, ['unit']],
    [{ kind: 'hammer' }, ['kind']],
    [{ calibrationDue: '2026-02-30' }, ['calibrationDue']],
  ])('a wrench with %j', (rest, fields) => expect(wrongIn(NewTorqueTool, { ...wrench, ...rest })).toEqual(fields));
  it('an adapter’s own end is a width across flats, or nothing', () => {
    const adapter = { id: ID, kind: 'adapter', name: 'A', depot: 'Depot', unit: 'N·m', most: 300, extensionMm: 90 };
    expect(wrongIn(NewTorqueTool, { ...adapter, endSize: '21 mm' })).toEqual([]);
    expect(wrongIn(NewTorqueTool, { ...adapter, endSize: '' })).toEqual([]);
    expect(wrongIn(NewTorqueTool, { ...adapter, endSize: 'big' })).toEqual(['endSize']);
  });
  it('a multiplier multiplies', () =>
    expect(
      wrongIn(NewTorqueTool, {
        id: ID,
        kind: 'multiplier',
        name: 'M',
        depot: 'Depot',
        unit: 'N·m',
        most: 900,
        ratio: 1,
      }),
    ).toEqual(['ratio']));
  it('the next calibration comes after this one, and a model is built from before to', () => {
    expect(wrongIn(NewCalibration, { id: ID, doneOn: '2026-11-20', due: '2026-11-20' })).toEqual(['due']);
    expect(wrongIn(FitmentChange, { builtFrom: '2024-01-01', builtTo: '2023-01-01' })).toEqual(['builtTo']);
    expect(wrongIn(FitmentChange, { builtFrom: '2024-01-01' })).toEqual([]);
  });
});
