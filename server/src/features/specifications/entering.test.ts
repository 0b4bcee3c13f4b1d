import { describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { Revision } from '@mile-mark/contract/specifications';
import {
  bench,
  enter,
  fieldOf,
  here,
  joint,
  open,
  release,
  SOURCE,
  torque,
  useEmptyLibrary,
} from '../../testing/library.ts';
import { jointKindId } from './shippedJoints.ts';

useEmptyLibrary();

describe('what is entered', () => {
  it.each([
    ['a torque below zero', {}, { torque: torque({ nominal: -5 }) }, 'values.torque.nominal'],
    ['a torque without a unit', {}, { torque: { nominal: 130 } }, 'values.torque.unit'],
    ['least above most', {}, { torque: torque({ nominal: null, least: 140, most: 120 }) }, 'values.least'],
    [
      'a socket that no fastener of the thread has',
      {},
      { fastener: { thread: 'M14x1.5', headKind: 'hex', headSize: '13 mm' } },
      'values.headSize',
    ],
    ['a torque on a joint that is not there', {}, { absent: true }, 'values.absent'],
    ['an axle the here.model does not have', { axle: 5 }, {}, 'axle'],
    ['a joint of another kind of brake', { jointKindId: jointKindId('Carrier bolt') }, {}, 'jointKindId'],
    ['a joint that is not on the list', { jointKindId: randomUUID() }, {}, 'jointKindId'],
    ['values of an axle for a joint', { values: { about: 'axle', padMinMm: 2 } }, {}, 'values.about'],
    ['a document of tomorrow', { source: { ...SOURCE, date: '2026-11-21' } }, {}, 'source.date'],
    ['no page', { source: { ...SOURCE, page: '' } }, {}, 'source.page'],
  ])('refuses %s, naming the field', async (_what, rest, values, field) => {
    const answer = await enter(here.coordinator, joint(rest, values));
    expect(answer.status).toBe(422);
    expect(fieldOf(answer)).toContain(field);
    expect((await open(here.coordinator)).length).toBe(0);
  });

  it('questions a torque far outside the usual, and takes it once confirmed', async () => {
    const odd = joint({ position: 'odd' }, { torque: torque({ nominal: 700 }) });
    const asked = await enter(here.coordinator, odd);
    expect([asked.status, fieldOf(asked)]).toEqual([422, ['values.nominal']]);
    await enter(here.coordinator, { ...odd, confirmed: ['torque_unusual'] }).expect(201);
    await here.coordinator
      .post(`/api/specification-revisions/${odd.id}/withdrawal`)
      .send({ reason: 'a trial only' })
      .expect(201);
  });

  it('refuses limits that contradict the axle', async () => {
    const sheet = (values: object) => joint({ jointKindId: null, values: { about: 'axle', ...values } });
    expect(fieldOf(await enter(here.coordinator, sheet({ padMinMm: 11 })))).toEqual(['values.padMinMm']);
    expect(fieldOf(await enter(here.coordinator, sheet({ rotorDiscardMm: 32 })))).toEqual(['values.rotorDiscardMm']);
    expect(fieldOf(await enter(here.coordinator, sheet({ rotorDiscardMm: 30, rotorMachineToMm: 29 })))).toEqual([
      'values.rotorMachineToMm',
    ]);
  });
});

describe('two people', () => {
  it('release nothing that only one has typed', async () => {
    const own = joint({ position: 'upper' });
    await enter(here.coordinator, own).expect(201);
    expect((await bench()).model.axles[0]?.joints).toEqual([]);
    // The here.technician does not see the figures, whichever way they ask; whoever entered does.
    const [waiting] = await open(here.technician);
    expect(waiting?.open).toMatchObject({
      blind: true,
      mine: false,
      values: { torque: null, preparation: 'medium thread locker' },
    });
    const history = (await here.technician.get(`/api/specifications/${waiting?.id}/revisions`).expect(200)).body as {
      items: Revision[];
    };
    // A figure of its own: three hexadecimal digits in a row also stand in every other identifier.
    expect(JSON.stringify([waiting, history])).not.toMatch(/\b130\b/);
    expect((await open(here.coordinator))[0]?.open).toMatchObject({
      blind: false,
      values: { torque: { nominal: 130 } },
    });

    expect((await release(here.coordinator, own.id, torque())).status).toBe(403);
    const wrong = (await release(here.technician, own.id, torque({ nominal: 135 })).expect(200)).body as object;
    expect(wrong).toEqual({ released: false, differing: ['nominal'], conflict: null });
    expect((await release(here.technician, own.id, null).expect(200)).body).toMatchObject({
      differing: ['unit', 'nominal'],
    });
    expect((await bench()).model.axles[0]?.joints).toEqual([]);
    // The mismatch is shown to whoever entered, with both figures; to the other only what they typed.
    expect((await open(here.coordinator))[0]?.open?.attempts[0]?.differing).toEqual([
      { field: 'nominal', entered: '130', typed: '135' },
    ]);
    expect((await open(here.technician))[0]?.open?.attempts[0]?.differing).toEqual([
      { field: 'nominal', entered: null, typed: '135' },
    ]);

    expect((await release(here.technician, own.id, torque()).expect(200)).body).toMatchObject({ released: true });
    expect((await bench()).model.axles[0]?.joints).toMatchObject([
      { joint: 'Bracket bolt', position: 'upper', values: { torque: { nominal: 130 } } },
    ]);
    expect((await release(here.technician, own.id, torque())).status).toBe(409);
    // Entering it again, as a device does whose answer was lost, adds nothing even now.
    await enter(here.coordinator, own).expect(201);
    expect((await open(here.coordinator)).some(({ position }) => position === 'upper')).toBe(false);
  });

  it('stop somebody who guesses: after three different figures another must look', async () => {
    const own = joint({ position: 'guess' });
    await enter(here.coordinator, own).expect(201);
    for (const nominal of [100, 110, 120])
      expect((await release(here.technician, own.id, torque({ nominal })).expect(200)).body).toMatchObject({
        released: false,
      });
    const fourth = await release(here.technician, own.id, torque());
    expect(fourth.status).toBe(409);
    expect((fourth.body as { detail: string }).detail).toContain('typed it differently 3 times');
    await here.coordinator
      .post(`/api/specification-revisions/${own.id}/withdrawal`)
      .send({ reason: 'to be read again' })
      .expect(201);
  });

  it('never half-release: a repeat of the request answers as the first did', async () => {
    const own = joint({ position: 'repeat' });
    await enter(here.coordinator, own).expect(201);
    await enter(here.coordinator, own).expect(201);
    const attempt = { id: randomUUID(), typed: { about: 'joint', torque: torque() } };
    const send = () => here.technician.post(`/api/specification-revisions/${own.id}/releases`).send(attempt);
    const answers = await Promise.all([send(), send(), send()]);
    expect(answers.map(({ status, body }) => [status, (body as { released: boolean }).released])).toEqual([
      [200, true],
      [200, true],
      [200, true],
    ]);
    const [{ releases } = { releases: 0 }] = await here.test.orm.em
      .fork()
      .execute<{ releases: number }[]>(
        'select count(*)::int as releases from specification_release where revision_id = ?',
        [own.id],
      );
    expect(releases).toBe(1);
  });

  it('are demanded by the database too, and nothing released is rewritten', async () => {
    const em = here.test.orm.em.fork();
    const [row] = await em.execute<{ revision_id: string }[]>('select revision_id from specification_release limit 1');
    await expect(
      em.execute('update specification_revision set page = ? where id = ?', ['13', row?.revision_id]),
    ).rejects.toThrow();
    await expect(
      em.execute('delete from specification_release where revision_id = ?', [row?.revision_id]),
    ).rejects.toThrow();
    const own = joint({ position: 'alone' });
    await enter(here.coordinator, own).expect(201);
    await release(here.technician, own.id, null).expect(200);
    await expect(
      em.execute(
        `insert into specification_release (revision_id, attempt_id, entered_by, released_by, released_on, detail)
         select r.id, a.id, r.entered_by, r.entered_by, now()::date, r.detail from specification_revision r
         join specification_attempt a on a.revision_id = r.id where r.id = ?`,
        [own.id],
      ),
    ).rejects.toThrow(/specification_two_people/);
  });

  it('can’t leave two revisions of a joint open, even at once', async () => {
    const both = [joint({ position: 'twice' }), joint({ position: 'twice' })];
    const answers = await Promise.all(both.map((body) => enter(here.coordinator, body)));
    expect(answers.map(({ status }) => status).sort()).toEqual([201, 409]);
    const refused = answers.find(({ status }) => status === 409);
    expect((refused?.body as { detail: string }).detail).toContain('waits to be released');
  });
});

describe('a stated pair that contradicts itself', () => {
  const pair = { statedToo: { unit: 'N·m', value: 210 } };

  it('is settled by whoever releases, with how that is known; what was entered stays', async () => {
    const own = joint({ position: 'pair' }, { torque: torque(pair) });
    await enter(here.coordinator, own).expect(201);
    const first = await release(here.technician, own.id, torque(pair)).expect(200);
    expect(first.body).toMatchObject({
      released: false,
      differing: [],
      conflict: { first: '130 lbf·ft', statedToo: '210 N·m' },
    });
    expect((first.body as { conflict: { percent: number } }).conflict.percent).toBeCloseTo(
      100 * (210 / (130 * 1.3558179483314) - 1),
      6,
    );
    expect(
      (await release(here.technician, own.id, torque(pair), { settled: { holds: 'statedToo', why: '' } })).status,
    ).toBe(422);
    const settled = { holds: 'statedToo', why: 'Table on page 3 says 210 N·m' };
    expect((await release(here.technician, own.id, torque(pair), { settled }).expect(200)).body).toMatchObject({
      released: true,
    });
    const there = (await bench()).model.axles[0]?.joints.find(({ position }) => position === 'pair');
    expect(there?.values.torque).toMatchObject({ unit: 'N·m', nominal: 210, statedToo: null });
  });

  it('of one figure against a range is sent back', async () => {
    const ranged = torque({ ...pair, least: 120, most: 140 });
    const own = joint({ position: 'range' }, { torque: ranged });
    await enter(here.coordinator, own).expect(201);
    const settled = { holds: 'statedToo', why: 'the table says so' };
    const answer = await release(here.technician, own.id, ranged, { settled });
    expect([answer.status, fieldOf(answer)]).toEqual([422, ['settled.holds']]);
    expect((await open(here.coordinator)).some(({ position }) => position === 'range')).toBe(true);
    await release(here.technician, own.id, ranged, { settled: { ...settled, holds: 'first' } }).expect(200);
  });
});
