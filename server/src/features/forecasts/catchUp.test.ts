import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, jest } from '@jest/globals';
import { createTestApp, fillSmallFleet, localComputer, TODAY, type TestApp } from '../../testing/app.ts';
import { catchUp, refreshFleet, refreshQueue } from './index.ts';

/** What is asked for where forecasts are behind, and how often the queue is asked for the same. */

let test: TestApp;
beforeAll(async () => {
  test = await createTestApp();
  await fillSmallFleet(test);
  await refreshFleet(fork(), localComputer(), TODAY);
});
afterAll(async () => test.close());
const fork = () => test.orm.em.fork();

let asked: string[];
beforeEach(() => {
  asked = [];
});
/** A queue that lets few be made one by one. */
const queue = {
  vehicles: async (ids: string[]) => void asked.push(`vehicles ${ids.length}`),
  fleet: async () => void asked.push('fleet'),
  appraisersSoon: async () => undefined,
  mostOneByOne: 1,
};
const caught = async (today = TODAY) => {
  asked.length = 0;
  await catchUp(fork(), today, queue);
  return asked;
};

describe('what is behind', () => {
  it('is asked for vehicle by vehicle however many were entered on, and of another day or version with the fleet', async () => {
    expect(await caught()).toEqual([]);
    await fork().execute('update vehicle set input_rev = input_rev + 1');
    expect(await caught()).toEqual(['vehicles 2']);
    await fork().execute(
      'update vehicle_forecast f set input_rev = v.input_rev from vehicle v where v.id = f.vehicle_id',
    );
    expect(await caught('2031-01-01')).toEqual(['fleet']);
    const version = await fork().execute<{ v: string }[]>('select model_version as v from forecast limit 1');
    await fork().execute(`update forecast set model_version = 'an older one'`);
    expect(await caught()).toEqual(['fleet']);
    await fork().execute('update forecast set model_version = ?', [version[0]?.v]);
    expect(await caught()).toEqual([]);
  });
});

describe('while the whole fleet’s forecasts are made', () => {
  afterEach(async () => {
    await fork().execute(`delete from job_run where name = 'refresh-fleet'`);
    await fork().execute(
      'update vehicle_forecast f set input_rev = v.input_rev from vehicle v where v.id = f.vehicle_id',
    );
  });

  it('what is behind is not made a second time beside it, and is asked for once that run is lost', async () => {
    await fork().execute('update vehicle set input_rev = input_rev + 1');
    await fork().execute(
      `insert into job_run (id, name, state) values (gen_random_uuid(), 'refresh-fleet', 'running')`,
    );
    expect(await caught()).toEqual([]);
    expect(await caught('2031-01-01')).toEqual(['fleet']);
    await fork().execute(`update job_run set state = 'lost', ended_at = now() where name = 'refresh-fleet'`);
    expect(await caught()).toEqual(['vehicles 2']);
  });
});

describe('learning how people read', () => {
  beforeEach(() => {
    jest.useFakeTimers({ now: 0 });
  });
  afterEach(() => {
    jest.useRealTimers();
  });

  it('is asked for once while what was asked has not begun, and again where one of another process waits', async () => {
    let waits = false;
    const asks = refreshQueue(async (kind, _data, more) => {
      asked.push(`${kind.name} after ${more?.afterS}`);
      return !waits;
    });
    const passed = async (seconds: number) => {
      jest.advanceTimersByTime(seconds * 1000);
      await asks.appraisersSoon();
      return asked.length;
    };
    expect(await passed(0)).toBe(1);
    expect(asked).toEqual(['learn-hands after 300']);
    expect(await passed(100)).toBe(1);
    // Well before it begins it is asked for anew: what comes after that would not be in it.
    expect(await passed(100)).toBe(2);
    waits = true;
    expect(await passed(200)).toBe(3);
    expect(await passed(1)).toBe(4);
    waits = false;
    expect(await passed(1)).toBe(5);
    expect(await passed(1)).toBe(5);
  });
});
