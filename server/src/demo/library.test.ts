import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { jointFacts } from '@mile-mark/contract/specifications';
import { jointsOfBrake, judgeJoint, SHIPPED_JOINTS } from '@mile-mark/core';
import { benchOfDepot } from '../features/specifications/queries/benchSheets.ts';
import { changedSince } from '../features/specifications/queries/changedSince.ts';
import { coverage } from '../features/specifications/queries/coverage.ts';
import { openSpecifications } from '../features/specifications/queries/specifications.ts';
import type { Orm } from '../platform/db/orm.ts';
import { createDemoDatabase } from '../testing/app.ts';
import { DEMO_TODAY, STAFF } from './cast.ts';
import { MODELS } from './castModels.ts';
import { ensureDemoLibrary } from './library.ts';
import { type DemoJoint, RELEASED, WAITING } from './libraryCast.ts';
import { personId } from './rows.ts';

const kindOf = ({ joint }: DemoJoint) => SHIPPED_JOINTS.find(({ name }) => name === joint);

describe('the invented library', () => {
  it('has every joint that each model’s axles have, one of them still waiting', () => {
    const missing = MODELS.flatMap((model) =>
      model.axles.flatMap((axle, index) =>
        jointsOfBrake(SHIPPED_JOINTS, axle.brake)
          .filter(({ expected }) => expected)
          .filter(
            ({ name }) =>
              !RELEASED.some((one) => one.model === model.name && one.axle === index + 1 && one.joint === name),
          )
          .map(({ name }) => ({ model: model.name, axle: index + 1, name })),
      ),
    );
    expect(missing).toHaveLength(1);
    expect(WAITING).toContainEqual(expect.objectContaining({ model: missing[0]?.model, joint: missing[0]?.name }));
    for (const model of MODELS)
      for (const index of model.axles.keys())
        expect(RELEASED).toContainEqual(expect.objectContaining({ model: model.name, axle: index + 1, joint: null }));
  });

  it('has values within real ranges: nothing refused or questioned, and one pair that contradicts itself', () => {
    const doubts = [...RELEASED, ...WAITING].flatMap((one) =>
      one.values.about === 'joint'
        ? judgeJoint(jointFacts(one.values, kindOf(one)?.hollow ?? false)).map(
            ({ code }) => `${one.model} ${one.joint} ${code}`,
          )
        : [],
    );
    expect(doubts).toEqual(['Ostrey Carrier 35 Hose joint pair']);
  });

  it('agrees with the limits that its models were imported with', () => {
    for (const { model, axle, values } of RELEASED) {
      if (values.about !== 'axle') continue;
      const own = MODELS.find(({ name }) => name === model)?.axles[axle - 1];
      expect([values.padMinMm, values.rotorDiscardMm, values.rotorMachineToMm]).toEqual([
        own?.makerMin,
        own?.rotor[1],
        own?.rotor[2],
      ]);
    }
  });
});

describe('the library in the demo', () => {
  let orm: Orm;
  let close: () => Promise<void>;
  beforeAll(async () => {
    ({ orm, close } = await createDemoDatabase(60));
  });
  afterAll(async () => close());

  it('comes to a demo that was made before it, and is never filled twice', async () => {
    const em = orm.em.fork();
    const count = async () =>
      (await em.execute<{ count: number }[]>('select count(*)::int as count from specification'))[0]?.count;
    const before = await count();
    await ensureDemoLibrary(orm.em.fork());
    expect(await count()).toBe(before);
    const older = await createDemoDatabase(3);
    await older.orm.em.execute(
      'truncate specification, specification_revision, specification_attempt, specification_release, torque_tool, tool_calibration cascade',
    );
    await ensureDemoLibrary(older.orm.em.fork());
    const [there] = await older.orm.em.execute<{ count: number }[]>('select count(*)::int as count from specification');
    expect(there?.count).toBe(before);
    await older.close();
  });

  it('marks every value as a demo value', async () => {
    const depots = await orm.em.fork().execute<{ id: string }[]>('select id from depot');
    for (const { id } of depots) {
      const { models, vehicles } = await benchOfDepot(orm.em.fork(), id);
      expect(models).toHaveLength(MODELS.length);
      expect(vehicles.length).toBeGreaterThan(15);
      for (const axle of models.flatMap(({ axles }) => axles)) {
        expect(axle.joints.every(({ demo, source }) => demo && source.document.includes('(invented)'))).toBe(true);
        expect(axle.sheet?.demo).toBe(true);
      }
    }
  });

  it('lets nobody see the figures of another that wait', async () => {
    const [coordinator, technician] = STAFF;
    const seenBy = async ({ name, role }: { name: string; role: (typeof STAFF)[number]['role'] }) =>
      (await openSpecifications(orm.em.fork(), { id: personId(name), name, role })).map(({ open }) => [
        open?.enteredBy,
        open?.blind,
      ]);
    expect(await seenBy(coordinator)).toEqual([
      ['Tobi Varga', true],
      ['Maren Ashdown', false],
      ['Tobi Varga', true],
    ]);
    expect(await seenBy(technician)).toEqual([
      ['Tobi Varga', false],
      ['Maren Ashdown', true],
      ['Tobi Varga', false],
    ]);
  });

  it('tells its stories: a bench that ends too early, a calibration that lapsed, and one that reaches everything', async () => {
    const { unreachable, lacking } = await coverage(orm.em.fork(), DEMO_TODAY);
    expect(unreachable.filter(({ depot }) => depot === 'Creamery yard')).toEqual([]);
    expect(unreachable.filter(({ depot }) => depot === 'Northfold').map(({ joint }) => joint)).toEqual(
      expect.arrayContaining(['Wheel nut', 'Carrier bolt']),
    );
    const lapsed = unreachable.filter(({ depot }) => depot === 'Saltmarsh depot');
    expect(new Set(lapsed.map(({ overdue }) => overdue?.tool))).toEqual(new Set(['Saltmarsh medium']));
    expect(lacking.map(({ joint, waiting }) => [joint, waiting])).toEqual([['Pad retainer bolt', true]]);
    expect(await changedSince(orm.em.fork())).toEqual([]);
  });
});
