import { afterAll, beforeAll, beforeEach, describe, expect, it } from '@jest/globals';
import type { MileMarks, VehicleDetail } from '@mile-mark/contract/forecasts';
import type { VehicleForecast } from '@mile-mark/core';
import { type Pool, ThreadDied } from '../../platform/compute/pool.ts';
import { createTestApp, fillSmallFleet, localComputer, TODAY, type TestApp } from '../../testing/app.ts';
import { type Computer, createComputer, inNumbers, VehiclesFailed } from './computer.ts';
import { catchUp, refreshFleet, refreshVehicles } from './index.ts';
import type { VehicleRecord } from './record.ts';

/** One vehicle that cannot be computed never keeps the others waiting, and why is told. */

let test: TestApp;
let ill: string;
let well: string;
const fork = () => test.orm.em.fork();
beforeAll(async () => {
  test = await createTestApp();
  await fillSmallFleet(test);
  await refreshFleet(fork(), localComputer(), TODAY);
  const rows = await fork().execute<{ id: string }[]>('select id from vehicle order by unit');
  [ill = '', well = ''] = rows.map(({ id }) => id);
});
afterAll(async () => test.close());
beforeEach(async () => {
  await fork().execute('delete from forecast_failure');
  await fork().execute('delete from kept_answer');
  await fork().execute('update vehicle set input_rev = input_rev + 1');
  await fork().execute(`update forecast set input_hash = 'of another input'`);
});

const idOf = (item: unknown) =>
  ('record' in (item as object) ? (item as { record: VehicleRecord }).record : (item as VehicleRecord)).id;

/** A computer that cannot answer one of its questions for the ill vehicle; how often it was asked at all. */
function failing(question: keyof Computer, message = 'the covariance came out as no covariance') {
  let asked = 0;
  const entries = Object.entries(localComputer()).map(([name, ask]) => {
    if (name !== question) return [name, ask] as const;
    const refusing = async (items: unknown[], ...rest: unknown[]) => {
      asked += 1;
      const failures = items.filter((item) => idOf(item) === ill).map((item) => ({ item, message }));
      if (failures.length > 0) throw new VehiclesFailed(failures);
      return (ask as (...all: unknown[]) => Promise<unknown>)(items, ...rest);
    };
    return [name, refusing] as const;
  });
  const computer = Object.fromEntries(entries) as unknown as Computer;
  return { computer, asked: () => asked };
}

const behind = async () =>
  (
    await fork().execute<{ id: string }[]>(
      'select v.id from vehicle v join vehicle_forecast f on f.vehicle_id = v.id where f.input_rev < v.input_rev',
    )
  ).map(({ id }) => id);
const marks = async (): Promise<MileMarks> =>
  (await (await test.as('coordinator')).get('/api/mile-marks').expect(200)).body as MileMarks;
const unitOf = async (id: string) =>
  (await fork().execute<{ unit: string }[]>('select unit from vehicle where id = ?', [id]))[0]?.unit ?? '';

describe('a vehicle that cannot be computed', () => {
  const questions: (keyof Computer)[] = ['forecasts', 'lessons', 'appraisers', 'backtest'];
  it.each(questions)(
    'when the fleet is asked for %s: the others are made, and why stands on record',
    async (question) => {
      await refreshFleet(fork(), failing(question).computer, TODAY);
      expect(await behind()).not.toContain(well);
      const { refresh, items } = await marks();
      const unit = await unitOf(ill);
      expect(refresh.failed).toEqual([{ unit, message: 'the covariance came out as no covariance' }]);
      expect(refresh.pending).toBe(0);
      // Its marks of before stand.
      expect(items.map((mark) => mark.unit)).toContain(unit);
      const coordinator = await test.as('coordinator');
      const detail = (await coordinator.get(`/api/vehicles/${unit}`).expect(200)).body as VehicleDetail;
      expect(detail.refresh).toMatchObject({ pending: 0, failed: refresh.failed });
    },
  );

  it('is not tried again and again as its record stands, but once it changed, on another day, or by another version', async () => {
    const said: string[] = [];
    const failed = (unit: string, message: string) => void said.push(`${unit}: ${message}`);
    await refreshVehicles(fork(), failing('forecasts').computer, [ill, well], TODAY, { failed });
    expect(said).toEqual([`${await unitOf(ill)}: the covariance came out as no covariance`]);
    expect(await behind()).toEqual([ill]);
    const asked: string[][] = [];
    const queue = {
      vehicles: async (ids: string[]) => void asked.push(ids),
      fleet: async () => void asked.push(['fleet']),
      appraisersSoon: async () => undefined,
      mostOneByOne: 20,
    };
    const caught = async (today = TODAY) => {
      asked.length = 0;
      await catchUp(fork(), today, queue);
      return asked.flat();
    };
    expect(await caught()).toEqual([]);
    const again = failing('forecasts');
    await refreshVehicles(fork(), again.computer, [ill], TODAY);
    expect(again.asked()).toBe(0);
    expect((await marks()).refresh.failed).toHaveLength(1);
    expect(await caught('2026-11-28')).toContain(ill);
    await fork().execute(`update forecast_failure set model_version = 'an older one'`);
    expect(await caught()).toEqual([ill]);
    await fork().execute('update forecast_failure set model_version = (select max(model_version) from forecast)');
    expect(await caught()).toEqual([]);
    await fork().execute('update vehicle set input_rev = input_rev + 1 where id = ?', [ill]);
    expect(await caught()).toEqual([ill]);
    await refreshVehicles(fork(), localComputer(), [ill], TODAY);
    expect((await marks()).refresh.failed).toEqual([]);
    expect(await behind()).toEqual([]);
  });

  it('because the database would not take its figures: the others saved with it are saved', async () => {
    const own = localComputer();
    const over = (forecast: VehicleForecast): VehicleForecast => ({
      ...forecast,
      changes: [
        {
          kind: 'route',
          since: '2026-10-01',
          probability: 1.5,
          factor: { p05: 1, p50: 2, p95: 3 },
          looks: 2,
          wear: [],
        },
      ] as unknown as VehicleForecast['changes'],
    });
    const computer: Computer = {
      ...own,
      forecasts: async (items, inputOf, options) => {
        const made = await own.forecasts(items, inputOf, options);
        return made.map((forecast, k) => (idOf(items[k]) === ill ? over(forecast) : forecast));
      },
    };
    await refreshVehicles(fork(), computer, [ill, well], TODAY);
    expect(await behind()).toEqual([ill]);
    expect((await marks()).refresh.failed).toEqual([
      { unit: await unitOf(ill), message: 'its forecast can’t be kept: against wear change probability check' },
    ]);
  });
});

/** A pool that does what threads do, in this one; some of its work fails. */
function poolWith(perform: (task: string, input: unknown[]) => unknown[]): Pool {
  return {
    threads: 2,
    run: async (task, input) => perform(task, input as unknown[]),
    close: async () => undefined,
  };
}

describe('a part of a fleet that could not be computed together', () => {
  const numbers = Array.from({ length: 25 }, (_, k) => k);
  const squares = (fails: (input: unknown[]) => string | undefined, of = numbers) =>
    createComputer(
      poolWith((_task, input) => {
        const message = fails(input);
        if (message) throw message === 'no thread' ? new ThreadDied(message) : new Error(`compute thread: ${message}`);
        return input.map((value) => [(value as number) ** 2]);
      }),
    ).process(of, (value) => value as never);

  it('is computed one by one: whoever fails alone is named, with why', async () => {
    const failed = squares((input) => (input.includes(13) ? 'no such axle' : undefined));
    await expect(failed).rejects.toMatchObject({ failures: [{ item: 13, message: 'no such axle' }] });
  });

  it('is whole where each alone can be: nothing is lost and nothing moved', async () => {
    const computed = await squares((input) => (input.length > 5 ? 'out of memory' : undefined));
    expect(computed).toEqual(numbers.map((value) => [value ** 2]));
  });

  it('is the fault of each where each fails for a reason of its own, as all of a model may', async () => {
    const failed = squares((input) => (input.some((value) => (value as number) < 10) ? 'no such axle' : undefined));
    await expect(failed).rejects.toMatchObject({
      failures: numbers.slice(0, 10).map((item) => ({ item, message: 'no such axle' })),
    });
  });

  it('is the fault of who ends its thread whenever it is computed, also where it is asked for alone', async () => {
    const dies = (input: unknown[]) => (input.includes(24) ? 'no thread' : undefined);
    await expect(squares(dies)).rejects.toMatchObject({ failures: [{ item: 24, message: 'no thread' }] });
    await expect(squares(dies, [24])).rejects.toMatchObject({ failures: [{ item: 24, message: 'no thread' }] });
  });

  it('is whole where a thread ended once', async () => {
    let ended = 0;
    const computed = await squares((input) => (input.includes(24) && ++ended === 1 ? 'no thread' : undefined), [24]);
    expect([computed, ended]).toEqual([[[24 ** 2]], 2]);
  });

  it('is nobody’s fault where no thread can be had', async () => {
    const failed = squares((input) => (input.length === 0 || input.includes(7) ? 'no thread' : undefined));
    await expect(failed).rejects.toThrow('no thread');
    await expect(failed).rejects.not.toBeInstanceOf(VehiclesFailed);
  });
});

describe('a forecast', () => {
  const axle = { axle: 2, markMiles: 60_000, thinnestMm: 5, limitMm: 3, miles: { p50: 61_000 } };
  const forecast = (change: object) =>
    ({
      odometerNowMi: 50_000,
      milesPerDay: { mean: 60 },
      axles: [{ ...axle, ...change }],
    }) as unknown as VehicleForecast;

  it('is one where its figures are figures, and none where one is not', () => {
    expect(inNumbers(forecast({}))).toEqual(forecast({}));
    expect(() => inNumbers(forecast({ markMiles: NaN }))).toThrow('the mark of axle 2 came out as no number');
    expect(() => inNumbers(forecast({ miles: { p50: Infinity } }))).toThrow('the median of axle 2');
  });

  it('has no figure that is none, however deep it stands', () => {
    const pads = [
      {
        trace: [
          { date: '2026-01-01', meanMm: 5 },
          { date: '2026-02-01', meanMm: -Infinity },
        ],
      },
    ];
    expect(() => inNumbers(forecast({ pads }))).toThrow('axles 0 pads 0 trace 1 meanMm came out as no number');
    expect(() => inNumbers(forecast({ cost: undefined, rotor: null, worth: { miles: NaN } }))).toThrow('worth miles');
  });
});
