import { afterAll, beforeAll, beforeEach, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import * as events from '../../events.ts';
import type { DomainEvent } from '../../platform/events/bus.ts';
import { createTestApp, fillSmallFleet, type TestApp } from '../../testing/app.ts';
import { forecastSubscriber, STALE } from './stale.ts';

let test: TestApp;
let ids: string[];
beforeAll(async () => {
  test = await createTestApp();
  await fillSmallFleet(test);
  const rows = await test.orm.em.fork().execute<{ id: string }[]>('select id from vehicle order by unit');
  ids = rows.map(({ id }) => id);
});
afterAll(async () => test.close());

/** What was asked of the queue, in order. */
let asked: string[];
beforeEach(() => {
  asked = [];
});
const subscriber = forecastSubscriber({
  vehicles: async (vehicleIds) => void asked.push(`vehicles ${vehicleIds.length}`),
  fleet: async () => void asked.push('fleet'),
  appraisersSoon: async () => void asked.push('appraisers soon'),
  mostOneByOne: 3,
});
const after = async (...told: DomainEvent[]) => {
  await subscriber.after?.(told);
  return asked;
};
const revisions = async () => {
  const rows = await test.orm.em.fork().execute<{ input_rev: number }[]>('select input_rev from vehicle order by unit');
  return rows.map(({ input_rev }) => input_rev);
};
/** By how much each vehicle's revision rose. */
const raised = async (event: DomainEvent) => {
  const before = await revisions();
  await test.orm.em.fork().transactional(async (em) => subscriber.within?.(em, event));
  return (await revisions()).map((now, i) => now - (before[i] ?? 0));
};
const some = (count: number) => ({ vehicleIds: Array.from({ length: count }, () => randomUUID()) });

describe('what becomes stale', () => {
  const ofVehicles = [
    events.readingsKept,
    events.readingCorrected,
    events.odometerCorrected,
    events.questionSettled,
    events.padsFitted,
  ];
  it.each(ofVehicles.map((kind) => [kind.eventName, kind] as const))(
    'by “%s”: the forecasts of the vehicles it names, and before long how everybody reads',
    async (_name, kind) => {
      expect(await raised(kind({ vehicleIds: ids.slice(0, 1) }))).toEqual([1, 0]);
      expect(await after(kind(some(1)))).toEqual(['vehicles 1', 'appraisers soon']);
    },
  );

  it.each([
    [events.vehicleEntered],
    [events.changeSettled],
    [events.dutyBegun],
    [events.variantStated],
    [events.specificationReleased],
    [events.milesDriven],
  ])('by what says nothing of how people read: the forecasts alone', async (kind) => {
    expect(await raised(kind({ vehicleIds: ids }))).toEqual([1, 1]);
    expect(await after(kind(some(2)))).toEqual(['vehicles 2']);
  });

  it.each([[events.settingsChanged], [events.limitEntered]])('by what all rest on: every forecast', async (kind) => {
    expect(await raised(kind({}))).toEqual([1, 1]);
    expect(await after(kind({}))).toEqual(['fleet']);
  });

  it('by a study: how people read, at once where it came whole', async () => {
    expect(await raised(events.studyMeasured({}))).toEqual([0, 0]);
    expect(await after(events.studyMeasured({}))).toEqual(['appraisers soon']);
    asked = [];
    expect(await after(events.studyImported({}))).toEqual(['fleet']);
  });

  it('by a file: the whole fleet, and nothing where it touched no vehicle', async () => {
    expect(await after(events.recordsImported(some(1)))).toEqual(['fleet']);
    asked = [];
    expect(await after(events.recordsImported({ vehicleIds: [] }))).toEqual([]);
    expect(await after(events.importTakenBack(some(1)))).toEqual(['fleet']);
    expect(await raised(events.importTakenBack({ vehicleIds: ids.slice(0, 1) }))).toEqual([1, 0]);
  });

  it('is asked for once for many events, with the fleet where they are many', async () => {
    const twice = some(1);
    expect(await after(events.padsFitted(twice), events.readingsKept(twice))).toEqual([
      'vehicles 1',
      'appraisers soon',
    ]);
    asked = [];
    expect(await after(events.padsFitted(some(2)), events.readingsKept(some(2)))).toEqual(['fleet']);
  });

  it('is said of every kind of event', () => {
    const kinds = Object.values(events).flatMap((kind) => ('eventName' in kind ? [kind.eventName] : []));
    expect(Object.keys(STALE).sort()).toEqual(kinds.sort());
  });
});
