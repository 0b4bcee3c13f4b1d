import { afterAll, beforeAll, beforeEach, describe, expect, it } from '@jest/globals';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { FeedView } from '@mile-mark/contract/telematics';
import { type FeedDay, playDays } from '@mile-mark/standins';
import { loadVehicleRecords } from '../features/forecasts/queries/records.ts';
import { takeFeedPage } from '../features/telematics/commands.ts';
import { pollFeed } from '../features/telematics/jobs.ts';
import { feedCursor } from '../features/telematics/queries.ts';
import type { EventBus } from '../platform/events/bus.ts';
import { createTestApp, fillSmallFleet, type TestApp } from '../testing/app.ts';

let test: TestApp;
let unit: string;
let vehicleId: string;
let startMiles: number;
let events: EventBus;
beforeAll(async () => {
  test = await createTestApp();
  await fillSmallFleet(test);
  events = test.events;
  const [row] = await test.orm.em
    .fork()
    .execute<{ id: string; unit: string; metres: number }[]>(
      `select v.id, v.unit, (select max(odometer_m) from odometer o where o.vehicle_id = v.id) as metres from vehicle v order by unit limit 1`,
    );
  unit = row?.unit ?? '';
  vehicleId = row?.id ?? '';
  startMiles = Number(row?.metres ?? 0) / 1609.344;
});
afterAll(async () => test.close());
beforeEach(async () => {
  const em = test.orm.em.fork();
  await em.execute('delete from feed_day');
  await em.execute('delete from measured_duty');
  await em.execute('delete from feed_state');
});

const day = (date: string, more: Partial<FeedDay> = {}): FeedDay => ({
  unit,
  day: date,
  odometerMi: startMiles + 100,
  miles: 60,
  stops: 180,
  stopMph: 30,
  slowdowns: 0,
  slowdownFromMph: 0,
  slowdownToMph: 0,
  massKg: 2800,
  descentM: 400,
  longestDescentM: 60,
  ...more,
});
const dates = Array.from({ length: 20 }, (_, k) => `2026-10-${String(k + 1).padStart(2, '0')}`);
const month = () => dates.map((date, k) => day(date, { odometerMi: startMiles + 100 + 60 * k }));
const view = async () => (await (await test.as('viewer')).get('/api/feed').expect(200)).body as FeedView;

describe('a page of driven days', () => {
  it('brings odometers and a measured duty, once however often it comes', async () => {
    const em = () => test.orm.em.fork();
    const [before] = await loadVehicleRecords(em(), [vehicleId]);
    await takeFeedPage(em(), events, { days: month(), next: '20' }, '');
    await takeFeedPage(em(), events, { days: month(), next: '20' }, '');
    const [after] = await loadVehicleRecords(em(), [vehicleId]);
    expect((after?.odometers.length ?? 0) - (before?.odometers.length ?? 0)).toBe(3);
    expect(after?.inputRev).toBe((before?.inputRev ?? 0) + 1);
    const [block] = after?.measured ?? [];
    expect(block?.duty.stopsPerMile).toBeCloseTo(3, 9);
    expect(block?.duty.mphBeforeStop).toBeCloseTo(30, 9);
    expect(block?.duty.descentMPerMile).toBeCloseTo(400 / 60, 9);
    expect(await feedCursor(em())).toBe('20');
    expect((await view()).vehicles).toEqual([{ unit, lastDay: '2026-10-20', days: 20 }]);
  });

  it('keeps what can’t be so as a fault with its reason, and believes none of it', async () => {
    const good = month()
      .slice(0, 3)
      .map((one) => ({ ...one, day: one.day.replace('-10-', '-11-'), odometerMi: one.odometerMi + 2000 }));
    const after = (more: Partial<FeedDay>) => day('2026-11-05', { odometerMi: startMiles + 2400, ...more });
    const days = [
      ...good,
      { ...good[2], stops: 9 },
      after({ odometerMi: 400 }),
      after({ odometerMi: startMiles + 90_000 }),
      after({ unit: 'Z99' }),
      after({ stops: -3 }),
      'nonsense',
      after({}),
      day('2026-11-19', { odometerMi: startMiles + 2900 }),
    ];
    await takeFeedPage(test.orm.em.fork(), events, { days, next: 'x' }, '');
    const { faults, vehicles } = await view();
    expect(Object.fromEntries(faults.map(({ fault, note }) => [fault, note]))).toMatchObject({
      twice: expect.stringContaining('other figures'),
      falls: expect.stringContaining('does not fall'),
      leaps: expect.stringContaining('mi a day'),
      unknown: expect.stringContaining('Z99'),
      gap: expect.stringContaining('Silent for 13 days'),
    });
    const unreadable = faults.filter(({ fault }) => fault === 'unreadable').map(({ note }) => note);
    expect(unreadable.sort()).toEqual(['The line is no record of a day.', 'stops: -3 is none that a day can have.']);
    expect(vehicles[0]?.days).toBe(5);
  });

  it('tells a day that came twice from one that came again with other figures', async () => {
    const kept = ['2026-11-06', '2026-11-07', '2026-11-08'].map((date) => day(date, { odometerMi: startMiles + 2500 }));
    const again = [{}, { stops: 1 }, { odometerMi: 1 }].map((other, k) => ({ ...kept[k], ...other }));
    await takeFeedPage(test.orm.em.fork(), events, { days: [...kept, ...again], next: '1' }, '');
    const { faults } = await view();
    expect(faults.map(({ day: on, note }) => [on, note]).sort()).toEqual([
      ['2026-11-06', 'The same day again.'],
      ['2026-11-07', 'The same day again with other figures; the first is kept.'],
      ['2026-11-08', 'The same day again with other figures; the first is kept.'],
    ]);
  });

  it('lets an odometer lag by what rounding to a mile leaves, and takes it as standing still', async () => {
    const lag = (date: string, miles: number) => day(date, { odometerMi: startMiles + 2600 - miles });
    const days = [lag('2026-11-09', 0), lag('2026-11-10', 0.9), lag('2026-11-11', 1.5)];
    await takeFeedPage(test.orm.em.fork(), events, { days, next: '1' }, '');
    const kept = await test.orm.em
      .fork()
      .execute<{ fault: string | null; odometer_m: number | null }[]>(
        'select fault, odometer_m from feed_day order by day',
      );
    expect(kept.map(({ fault }) => fault)).toEqual([null, null, 'falls']);
    expect(kept[1]?.odometer_m).toBe(kept[0]?.odometer_m);
  });

  it.each([
    ['odometerMi', 3_000_000],
    ['miles', 1500],
    ['stops', 5000],
    ['stopMph', 100],
    ['slowdowns', 10_000],
    ['slowdownFromMph', 100],
    ['slowdownToMph', 100],
    ['massKg', 80_000],
    ['descentM', 20_000],
    ['longestDescentM', 5000],
  ] as const)('reads %s up to %d, and names it where it is more or less than nothing', async (field, most) => {
    const days = [most, most + 1, -1].map((value) => day('2026-11-12', { unit: 'Z98', [field]: value }));
    await takeFeedPage(test.orm.em.fork(), events, { days, next: '1' }, '');
    const { faults } = await view();
    expect(faults.map(({ fault, note }) => [fault, note?.split(':')[0]]).sort()).toEqual([
      ['unknown', 'There is no vehicle Z98 on record.'],
      ['unreadable', field],
      ['unreadable', field],
    ]);
  });

  it('takes a line whose characters or depth no database keeps as a fault, and the others as ever', async () => {
    const deep = JSON.parse(`${'['.repeat(20_000)}${']'.repeat(20_000)}`) as unknown;
    const far = { odometerMi: startMiles + 3100 };
    const days = [
      { ...day('2026-11-20', far), unit: `${unit}\u0000` },
      { ...day('2026-11-20', far), note: 'half of one: \ud83d' },
      { ...day('0004-11-02'), ['\u0000']: 1 },
      { unit, day: '2026-13-41', deep },
      day('2026-11-21', far),
    ];
    await takeFeedPage(test.orm.em.fork(), events, { days, next: '1' }, '');
    const { faults, vehicles } = await view();
    expect(faults.map(({ fault, note }) => [fault, note?.replace(/\ufffd/g, '?')]).sort()).toEqual([
      ['unknown', `There is no vehicle ${unit}? on record.`],
      ['unreadable', 'day: "0004-11-02" is none that a day can have.'],
      ['unreadable', 'day: "2026-13-41" is none that a day can have.'],
    ]);
    expect(vehicles).toEqual([{ unit, lastDay: '2026-11-21', days: 2 }]);
  });

  it('says the same of each day, whether days come in one page or one by one', async () => {
    const em = () => test.orm.em.fork();
    const vehiclesFile = `unit,model,depot,duty,duty_from,odometer_mi_at_start
P3,Fenby Hauler,Hill depot,herd rounds,2025-08-04,26031
P4,Fenby Hauler,Hill depot,herd rounds,2025-08-04,26031
`;
    const coordinator = await test.as('coordinator');
    await coordinator.post('/api/imports').send({ fileName: 'vehicles.csv', text: vehiclesFile }).expect(200);
    // Days of several vehicles as if they were one's: they come again, fall and leap in every way, and out of order.
    const mixed = playDays({
      vehicles: Array.from({ length: 5 }, (_, k) => ({
        unit: `U${k}`,
        points: [
          { date: '2026-08-01', miles: 27_000 + 300 * k },
          { date: '2026-11-01', miles: 32_000 },
        ],
        massKg: 2900,
        stopsPerMile: 2,
        mphBeforeStop: 30,
        descentMPerMile: 5,
      })),
      from: '2026-08-10',
      through: '2026-10-20',
      seed: 5,
    }).filter((_day, k) => k % 3 !== 1) as FeedDay[];
    const days = (name: string) => [...mixed.slice(60), ...mixed.slice(0, 60)].map((one) => ({ ...one, unit: name }));
    const one = days('P3');
    for (const [k, sent] of one.entries())
      await takeFeedPage(em(), events, { days: [sent], next: String(k + 1) }, k === 0 ? '' : String(k));
    await takeFeedPage(em(), events, { days: days('P4'), next: 'all' }, String(one.length));
    const told = async (name: string) => ({
      days: await em().execute(
        `select day::text, odometer_m, fault, fault_note from feed_day where unit = ? order by 1, 2, 3, 4`,
        [name],
      ),
      odometers: await em().execute(
        `select o.read_on::text as day, o.odometer_m from odometer o join vehicle v on v.id = o.vehicle_id where v.unit = ? order by 1`,
        [name],
      ),
      blocks: await em().execute(
        `select m.from_date::text, m.days, m.miles, m.duty from measured_duty m join vehicle v on v.id = m.vehicle_id where v.unit = ? order by 1`,
        [name],
      ),
    });
    const oneByOne = await told('P3');
    expect(await told('P4')).toEqual(oneByOne);
    expect(new Set(oneByOne.days.map(({ fault }) => fault)).size).toBeGreaterThan(3);
    expect(oneByOne.odometers.length).toBeGreaterThan(3);
    expect(oneByOne.blocks.length).toBeGreaterThan(1);
  });

  it('never goes ahead of what was read on a later day', async () => {
    const em = test.orm.em.fork();
    const [last] = await em.execute<{ miles: number; day: string }[]>(
      `select max(odometer_m) / 1609.344 as miles, max(read_on)::text as day from odometer where vehicle_id = ?`,
      [vehicleId],
    );
    await takeFeedPage(
      test.orm.em.fork(),
      events,
      { days: [day('2026-10-21', { odometerMi: Number(last?.miles ?? 0) + 500 })], next: '1' },
      '',
    );
    expect((await view()).faults[0]?.note).toMatch(/read on a later day/);
  });
});

describe('a block of four weeks', () => {
  const blocks = async () =>
    test.orm.em.fork().execute<{ days: number }[]>('select days from measured_duty where vehicle_id = ?', [vehicleId]);

  it('is a duty from eight days on: fewer say too little of what is driven', async () => {
    const take = (count: number, after: string) =>
      takeFeedPage(test.orm.em.fork(), events, { days: month().slice(0, count), next: String(count) }, after);
    await take(7, '');
    expect(await blocks()).toEqual([]);
    await take(8, '7');
    expect(await blocks()).toEqual([{ days: 8 }]);
  });
});

describe('polling', () => {
  const serve = async (answer: (after: string) => { status: number; body: unknown }) => {
    const server = createServer((request, response) => {
      const { status, body } = answer(new URL(request.url ?? '/', 'http://x').searchParams.get('after') ?? '');
      response.statusCode = status;
      response.end(typeof body === 'string' ? body : JSON.stringify(body));
    });
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    return { url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`, close: () => server.close() };
  };

  it('goes page after page and leaves off where nothing new comes', async () => {
    const all = month().map((one) => ({ ...one, day: one.day.replace('2026-10', '2026-12') }));
    const feed = await serve((after) => ({
      status: 200,
      body: {
        days: all.slice(Number(after), Number(after) + 8),
        next: String(Math.min(all.length, Number(after) + 8)),
      },
    }));
    await pollFeed(() => test.orm.em.fork(), events, feed.url);
    feed.close();
    expect(await feedCursor(test.orm.em.fork())).toBe('20');
  });

  it.each([
    ['a refusal', { status: 503, body: {} }],
    ['no JSON', { status: 200, body: '<html>' }],
    ['another shape', { status: 200, body: { rows: [] } }],
    ['more days than a page has', { status: 200, body: { days: Array(5001).fill(0), next: '5001' } }],
  ])('notes %s, keeps the cursor, and is well again after', async (_name, answer) => {
    const broken = await serve(() => answer);
    await pollFeed(() => test.orm.em.fork(), events, broken.url);
    broken.close();
    expect((await view()).failure).toBeTruthy();
    expect(await feedCursor(test.orm.em.fork())).toBe('');
    const well = await serve(() => ({ status: 200, body: { days: [], next: '0' } }));
    await pollFeed(() => test.orm.em.fork(), events, well.url);
    well.close();
    expect((await view()).failure).toBeNull();
  });

  it('says so where a page can’t be entered, in no words of the database, and begins there again', async () => {
    const feed = await serve(() => ({ status: 200, body: { days: month(), next: '20' } }));
    const failing = { ...events, emit: () => Promise.reject(new Error('relation "x" does not exist')) };
    await expect(pollFeed(() => test.orm.em.fork(), failing, feed.url)).rejects.toThrow('relation');
    feed.close();
    expect((await view()).failure).toMatch(/could not be entered/);
    expect(await feedCursor(test.orm.em.fork())).toBe('');
    expect((await view()).vehicles).toEqual([]);
  });

  it('is asked for by a coordinator alone', async () => {
    await (await test.as('technician')).post('/api/feed/polls').expect(403);
    await (await test.as('coordinator')).post('/api/feed/polls').expect(204);
  });
});

describe('the stand-in', () => {
  const vehicles = Array.from({ length: 6 }, (_, k) => ({
    unit: `U${k}`,
    points: [
      { date: '2026-08-01', miles: 50_000 },
      { date: '2026-10-01', miles: 54_000 },
    ],
    massKg: 3000,
    stopsPerMile: 2,
    mphBeforeStop: 30,
    descentMPerMile: 5,
  }));
  const options = { vehicles, from: '2026-08-10', through: '2026-11-20', seed: 3 };

  it('plays the same days for the same seed, with every kind of fault', () => {
    const days = playDays(options) as FeedDay[];
    expect(playDays(options)).toEqual(days);
    expect(days.some((one) => one.unit === 'X99')).toBe(true);
    expect(days.some((one) => typeof one.stops !== 'number')).toBe(true);
    const own = (name: string) => days.filter((one) => one.unit === name);
    expect(own('U2').length).toBe(new Set(own('U2').map((one) => one.day)).size + 1);
    const falls = own('U3').filter((one, k, all) => k > 0 && one.odometerMi < (all[k - 1]?.odometerMi ?? 0));
    expect(falls.length).toBe(1);
    const stops =
      own('U0').reduce((sum, one) => sum + one.stops, 0) / own('U0').reduce((sum, one) => sum + one.miles, 0);
    expect(stops).toBeGreaterThan(1.8);
    expect(stops).toBeLessThan(2.2);
  });
});
