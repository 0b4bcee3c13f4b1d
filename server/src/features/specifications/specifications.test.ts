import { describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { ChangedSince, Coverage, Revision, Specification } from '@mile-mark/contract/specifications';
import { TODAY } from '../../testing/app.ts';
import {
  type Client,
  NUT,
  bench,
  enter,
  fieldOf,
  here,
  joint,
  release,
  released,
  torque,
  useEmptyLibrary,
} from '../../testing/library.ts';
import { jointKindId } from './shippedJoints.ts';

useEmptyLibrary();

describe('a released figure that changes', () => {
  it('flags the jobs done on the old one, once, until they are settled', async () => {
    await released(joint({ jointKindId: NUT }), torque());
    const service = { id: randomUUID(), unit: 'P1', axle: 1, date: TODAY, odometer: '40,000 mi', fitted: 'pads' };
    await here.technician.post('/api/services').send(service).expect(201);
    const flags = async () =>
      ((await here.coordinator.get('/api/changed-specifications').expect(200)).body as { items: ChangedSince[] }).items;
    expect(await flags()).toEqual([]);

    const note = joint({ jointKindId: NUT }, { note: 'Only a note' });
    await released(note, torque());
    expect(await flags()).toEqual([]);
    // The same from the same page adds nothing.
    const again = await enter(here.coordinator, joint({ jointKindId: NUT }, { note: 'Only a note' }));
    expect([again.status, fieldOf(again)]).toEqual([422, ['values']]);

    const second = await released(
      joint({ jointKindId: NUT }, { torque: torque({ nominal: 155 }) }),
      torque({ nominal: 155 }),
    );
    const [flag, ...more] = await flags();
    expect(more).toEqual([]);
    expect(flag).toMatchObject({
      revisionId: second,
      serviceId: service.id,
      unit: 'P1',
      joint: 'Wheel nut',
      doneAgainOn: null,
      changes: [{ field: 'Torque', from: '130 lbf·ft', to: '155 lbf·ft' }],
    });
    const answer = { revisionId: second, serviceId: service.id, answer: 'checked', note: '155 reached' };
    await here.technician.post('/api/changed-specifications/answers').send(answer).expect(201);
    await here.technician.post('/api/changed-specifications/answers').send(answer).expect(201);
    expect(
      (await here.coordinator.post('/api/changed-specifications/answers').send({ ...answer, answer: 'redone' })).status,
    ).toBe(409);
    expect(await flags()).toEqual([]);
    // A job done now was done on the new figure: the next change flags both.
    const later = { ...service, id: randomUUID(), unit: 'P2', odometer: '60,000 mi' };
    await here.technician.post('/api/services').send(later).expect(201);
    await released(joint({ jointKindId: NUT }, { torque: torque({ nominal: 140 }) }), torque({ nominal: 140 }));
    expect((await flags()).map(({ unit }) => unit).sort()).toEqual(['P1', 'P2']);
  });

  it('can be taken back at once by the coordinator only; the joint is unknown then, and stays on record', async () => {
    const id = await released(
      joint(
        { jointKindId: jointKindId('Bleeder screw') },
        { fastener: { thread: 'M8' }, torque: torque({ nominal: 8 }) },
      ),
      torque({ nominal: 8 }),
    );
    const back = (client: Client) =>
      client.post(`/api/specification-revisions/${id}/withdrawal`).send({ reason: 'wrong page' });
    expect((await back(here.technician)).status).toBe(403);
    await back(here.coordinator).expect(201);
    await back(here.coordinator).expect(201);
    expect((await release(here.technician, id, torque({ nominal: 8 }))).status).toBe(409);
    const axle = (await bench()).model.axles[0];
    expect(axle?.unknown).toContain('Bleeder screw');
    expect(axle?.joints.map((one) => one.joint)).not.toContain('Bleeder screw');
    const { items } = (await here.coordinator.get(`/api/models/${here.model.id}/specifications`).expect(200)).body as {
      items: Specification[];
    };
    const own = items.find((one) => one.joint?.name === 'Bleeder screw');
    const history = (await here.coordinator.get(`/api/specifications/${own?.id}/revisions`).expect(200)).body as {
      items: Revision[];
    };
    expect(history.items).toMatchObject([{ id, state: 'withdrawn', withdrawn: { reason: 'wrong page' } }]);
  });
});

describe('limits of an axle', () => {
  it('count for forecasts once a second person has typed them', async () => {
    const values = { about: 'axle', padMinMm: 3, rotorDiscardMm: 30.2, runoutMm: 0.05 };
    const own = joint({ jointKindId: null, values });
    await enter(here.coordinator, own).expect(201);
    const limits = async () => {
      const { items } = (await here.coordinator.get('/api/models').expect(200)).body as {
        items: { axles: { padMakerMinMm: number; rotorDiscardMm: number; rotorMachineToMm: number }[] }[];
      };
      return items[0]?.axles[0];
    };
    expect(await limits()).toMatchObject({ padMakerMinMm: 2, rotorDiscardMm: 30 });
    const type = (typed: object) =>
      here.technician
        .post(`/api/specification-revisions/${own.id}/releases`)
        .send({ id: randomUUID(), typed: { about: 'axle', ...typed } });
    expect((await type({ padMinMm: 3, rotorDiscardMm: 30 }).expect(200)).body).toMatchObject({
      differing: ['rotorDiscardMm', 'runoutMm'],
    });
    expect((await type(values).expect(200)).body).toMatchObject({ released: true });
    expect(await limits()).toMatchObject({ padMakerMinMm: 3, rotorDiscardMm: 30.2, rotorMachineToMm: 30.4 });
    expect((await bench()).model.axles[0]?.sheet?.values).toMatchObject({ runoutMm: 0.05, fluidGrade: null });

    // A sister variant has the list's figures: specifications are never copied.
    const sister = {
      id: randomUUID(),
      name: 'Fenby Hauler 6x2',
      fitment: { drive: '6x2', wheelbaseMm: null, builtFrom: null, builtTo: null, axleOption: null },
    };
    await here.coordinator.post(`/api/models/${here.model.id}/variants`).send(sister).expect(201);
    const { items } = (await here.coordinator.get('/api/models').expect(200)).body as {
      items: { id: string; axles: object[] }[];
    };
    expect(items.find(({ id }) => id === sister.id)?.axles[0]).toMatchObject({ padMakerMinMm: 2, rotorDiscardMm: 30 });

    // Taken back, the list's figures count again, and what rests on them is to be computed anew.
    const takeBack = (reason: string) =>
      here.coordinator.post(`/api/specification-revisions/${own.id}/withdrawal`).send({ reason }).expect(201);
    const inputs = async () =>
      (
        await here.test.orm.em
          .fork()
          .execute<{ input_rev: number }[]>('select input_rev from vehicle where model_id = ? order by unit', [
            here.model.id,
          ])
      ).map((row) => Number(row.input_rev));
    const before = await inputs();
    await takeBack('of another axle');
    expect(await limits()).toMatchObject({ padMakerMinMm: 2, rotorDiscardMm: 30 });
    expect((await bench()).model.axles[0]?.sheet).toBeNull();
    expect(await inputs()).toEqual(before.map((rev) => rev + 1));
    await takeBack('once more');
    expect(await inputs()).toEqual(before.map((rev) => rev + 1));
  });

  it('leave the model list’s own figures as they are', async () => {
    const values = { about: 'axle', padMinMm: 3.5 };
    const own = joint({ jointKindId: null, values });
    await enter(here.coordinator, own).expect(201);
    await here.technician
      .post(`/api/specification-revisions/${own.id}/releases`)
      .send({ id: randomUUID(), typed: values })
      .expect(200);
    const em = here.test.orm.em.fork();
    const before = await em.execute(
      'select pad_maker_min_um, rotor_discard_um from model_axle order by model_id, axle',
    );
    expect(before[0]).toMatchObject({ pad_maker_min_um: 2000, rotor_discard_um: 30_000 });
  });
});

describe('torque tools and coverage', () => {
  const wrench = (rest: object = {}) => ({
    id: randomUUID(),
    kind: 'wrench',
    name: `Wrench ${randomUUID().slice(0, 4)}`,
    depot: 'Hill depot',
    unit: 'lbf·ft',
    least: 26,
    most: 130,
    graduation: 1,
    lengthMm: 430,
    calibrationDue: '2027-01-01',
    ...rest,
  });
  const unreachable = async () =>
    ((await here.coordinator.get('/api/specification-coverage').expect(200)).body as Coverage).unreachable.filter(
      ({ joint: name }) => name === 'Wheel nut',
    );

  it.each([
    [{ least: 140 }, 'least'],
    [{ graduation: 50 }, 'graduation'],
    [{ unit: 'psi' }, 'unit'],
    [{ most: 30_000 }, 'most'],
    [{ depot: 'Nowhere' }, 'depot'],
    [{ lengthMm: 5 }, 'lengthMm'],
  ])('refuses a wrench with %j', async (rest, field) => {
    const answer = await here.coordinator.post('/api/torque-tools').send(wrench(rest));
    expect([answer.status, fieldOf(answer)]).toEqual([422, [field]]);
  });

  it('says that no bench reaches a torque, what is needed, and why a tool is blocked', async () => {
    const [none] = await unreachable();
    expect(none).toMatchObject({ depot: 'Hill depot', torque: '140 lbf·ft', overdue: null, vehicles: 2 });
    const short = wrench({ name: 'Short' });
    await here.coordinator.post('/api/torque-tools').send(short).expect(201);
    expect((await unreachable())[0]?.need).toContain('ends at 176 N·m');
    const long = wrench({ name: 'Long', most: 250, least: 50, calibrationDue: '2026-11-19' });
    await here.coordinator.post('/api/torque-tools').send(long).expect(201);
    expect((await unreachable())[0]?.overdue).toEqual({ tool: 'Long', due: '2026-11-19' });
    const calibrate = (due: string) =>
      here.coordinator.post(`/api/torque-tools/${long.id}/calibrations`).send({ id: randomUUID(), doneOn: TODAY, due });
    expect((await calibrate(TODAY)).status).toBe(422);
    await calibrate('2027-11-20').expect(201);
    expect(await unreachable()).toEqual([]);
    await here.coordinator.put(`/api/torque-tools/${long.id}`).send({ depot: 'Hill depot', retired: true }).expect(200);
    expect(await unreachable()).toHaveLength(1);
  });

  it('lists a released joint whose document states no torque, and leaves one out that is not there', async () => {
    const lacking = async () =>
      ((await here.coordinator.get('/api/specification-coverage').expect(200)).body as Coverage).lacking
        .filter(({ axle }) => axle === 2)
        .map((one) => one.joint);
    const hose = jointKindId('Hose joint');
    await released(joint({ axle: 2, jointKindId: hose }, { torque: null }), null);
    expect(await lacking()).toContain('Hose joint: its torque');
    expect(await lacking()).not.toContain('Hose joint');
    await released(joint({ axle: 2, jointKindId: hose }, { torque: null, absent: true }), null);
    expect((await lacking()).filter((name) => name.startsWith('Hose joint'))).toEqual([]);
    expect((await bench()).model.axles[1]?.joints.map((one) => one.joint)).not.toContain('Hose joint');
  });

  it('lists what every such axle has and nobody released, by the nearest mark', async () => {
    const { lacking } = (await here.coordinator.get('/api/specification-coverage').expect(200)).body as Coverage;
    const first = lacking.filter(({ axle }) => axle === 1).map((one) => one.joint);
    expect(first).toContain('Hose joint');
    expect(first).not.toContain('Wheel nut');
    expect(first).not.toContain('Rotor retaining screw');
    expect(first).not.toContain('Carrier bolt');
    expect(lacking.filter(({ axle }) => axle === 2).map((one) => one.joint)).toContain('Limits, fluid, bed-in');
  });
});

describe('variants', () => {
  it('have the same axles and specifications of their own', async () => {
    const fitment = {
      drive: '4x2',
      wheelbaseMm: 3100,
      builtFrom: '2023-01-01',
      builtTo: '2024-12-31',
      axleOption: 'light',
    };
    const id = randomUUID();
    const add = (body: object) => here.coordinator.post(`/api/models/${here.model.id}/variants`).send(body);
    expect(fieldOf(await add({ id, name: 'Fenby Hauler', fitment }))).toEqual(['name']);
    expect(fieldOf(await add({ id, name: 'Other', fitment: { ...fitment, builtTo: '2022-01-01' } }))).toEqual([
      'fitment.builtTo',
    ]);
    await add({ id, name: 'Fenby Hauler 4x2', fitment }).expect(201);
    await here.coordinator.put('/api/vehicles/P2/model').send({ model: 'Fenby Hauler 4x2' }).expect(200);
    const sheet = await bench('P2');
    expect(sheet.model).toMatchObject({ name: 'Fenby Hauler 4x2', fitment });
    expect(sheet.model.axles[0]?.joints).toEqual([]);
    expect(sheet.model.axles[0]?.unknown).toContain('Wheel nut');
    // The job done on P2 before it was known to be this variant still counts for what it was done on.
    const { items } = (await here.coordinator.get('/api/changed-specifications').expect(200)).body as {
      items: ChangedSince[];
    };
    expect(items.map(({ unit }) => unit)).toContain('P2');
    expect((await here.coordinator.put('/api/vehicles/P2/model').send({ model: 'Nothing' })).status).toBe(422);
  });
});
