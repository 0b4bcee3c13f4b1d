import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { dateOfDay, dayNumber, randomNormal, seededRandom, type Random } from '@mile-mark/core';

/** A vehicle that the feed plays: where its odometer stood on some days, and the duty it really drives. */
export interface FeedVehicle {
  unit: string;
  /** In order of date, rising. */
  points: { date: string; miles: number }[];
  massKg: number;
  stopsPerMile: number;
  mphBeforeStop: number;
  descentMPerMile: number;
}

/** A day as it goes over the wire. */
export interface FeedDay {
  unit: string;
  day: string;
  odometerMi: number;
  miles: number;
  stops: number;
  stopMph: number;
  slowdowns: number;
  slowdownFromMph: number;
  slowdownToMph: number;
  massKg: number;
  descentM: number;
  longestDescentM: number;
}

export interface FeedOptions {
  vehicles: readonly FeedVehicle[];
  from: string;
  /** Last day played. */
  through: string;
  seed: number;
}

/**
 * The days a feed plays, in order of day and unit, faults and all: one vehicle is silent for twelve days, one day
 * comes twice, one comes twice and differs, an odometer rolls back for three days, a unit nobody knows, and a line
 * that can't be read. Same options: same days.
 */
export function playDays({ vehicles, from, through, seed }: FeedOptions): unknown[] {
  const random = seededRandom(seed);
  const [start, end] = [dayNumber(from), dayNumber(through)];
  const days: { day: number; record: unknown }[] = [];
  vehicles.forEach((vehicle, index) => {
    const own: { day: number; record: FeedDay }[] = [];
    for (let day = start; day <= end; day += 1) {
      if (isDayOff(day)) continue;
      const [before, now] = [odometerOn(vehicle, day - 1), odometerOn(vehicle, day)];
      if (now - before >= 1) own.push({ day, record: dayOf(vehicle, day, now, now - before, random) });
    }
    days.push(...withFaults(own, index));
  });
  return days.sort((a, b) => a.day - b.day).map(({ record }) => record);
}

/** The faults of one vehicle's record, by its place in the list; counted in days from the last. */
function withFaults(
  own: readonly { day: number; record: FeedDay }[],
  index: number,
): { day: number; record: unknown }[] {
  return own.flatMap(({ day, record }, at): { day: number; record: unknown }[] => {
    const left = own.length - 1 - at;
    const plain = { day, record };
    if (index === 1 && left >= 14 && left < 22) return [];
    if (index === 3 && left >= 7 && left < 10) {
      return [{ day, record: { ...record, odometerMi: Math.round((record.odometerMi % 10_000) * 10) / 10 } }];
    }
    if (index === 2 && left === 10) return [plain, { day, record: { ...record } }];
    if (index === 4 && left === 6) return [plain, { day, record: { ...record, odometerMi: record.odometerMi + 212 } }];
    if (index === 0 && left === 4) return [plain, { day, record: { ...record, unit: 'X99' } }];
    if (index === 5 && left === 3) return [{ day, record: { ...record, stops: 'n/a' } }];
    return [plain];
  });
}

/** Saturday and Sunday (day 0 of the count is a Thursday). */
function isDayOff(day: number): boolean {
  return day % 7 === 2 || day % 7 === 3;
}

/** Working days (Monday to Friday) after one day up to another. */
function worked(after: number, until: number): number {
  let count = 0;
  for (let day = after + 1; day <= until; day += 1) if (!isDayOff(day)) count += 1;
  return count;
}

/** Odometer at the end of a day: straight between the points, over working days alike; after the last at the pace so far. */
function odometerOn({ points }: FeedVehicle, day: number): number {
  const later = points.findIndex(({ date }) => dayNumber(date) >= day);
  const [first, last] = [points[0], points.at(-1)];
  if (!first || !last) return 0;
  if (later < 0) {
    const end = dayNumber(last.date);
    const pace = (last.miles - first.miles) / Math.max(1, worked(dayNumber(first.date), end));
    return last.miles + pace * worked(end, day);
  }
  const to = points[later] as (typeof points)[number];
  const from = points[later - 1];
  if (!from) return to.miles;
  const [a, b] = [dayNumber(from.date), dayNumber(to.date)];
  return from.miles + ((to.miles - from.miles) * worked(a, day)) / Math.max(1, worked(a, b));
}

function dayOf(vehicle: FeedVehicle, day: number, odometerMi: number, miles: number, random: Random): FeedDay {
  const about = (mean: number, share: number) => Math.max(0, mean * (1 + share * randomNormal(random)));
  const descentM = about(vehicle.descentMPerMile * miles, 0.15);
  return {
    unit: vehicle.unit,
    day: dateOfDay(day),
    odometerMi: Math.round(odometerMi * 10) / 10,
    miles: Math.round(miles * 10) / 10,
    stops: Math.round(about(vehicle.stopsPerMile * miles, 0.1)),
    stopMph: Math.round(about(vehicle.mphBeforeStop, 0.03) * 10) / 10,
    slowdowns: 0,
    slowdownFromMph: 0,
    slowdownToMph: 0,
    massKg: Math.round(about(vehicle.massKg, 0.04)),
    descentM: Math.round(descentM),
    longestDescentM: Math.round(descentM * (0.05 + 0.05 * random())),
  };
}

/**
 * A stand-in for a telematics service: `GET /days?after=<cursor>&limit=<n>` answers `{ days, next }`, `next` being the
 * cursor for the following call, on loopback and a port of its own.
 */
export function telematicsFeed(options: FeedOptions): Promise<{ url: string; close(): void }> {
  const days = playDays(options);
  const server: Server = createServer((request, response) => {
    const url = new URL(request.url ?? '/', 'http://feed');
    response.setHeader('Content-Type', 'application/json');
    if (request.method !== 'GET' || url.pathname !== '/days') {
      response.statusCode = 404;
      response.end('{"error":"GET /days is all there is"}');
      return;
    }
    const after = Math.max(0, Number(url.searchParams.get('after') ?? '0') || 0);
    const limit = Math.min(1000, Math.max(1, Number(url.searchParams.get('limit') ?? '500') || 500));
    const page = days.slice(after, after + limit);
    response.end(JSON.stringify({ days: page, next: String(after + page.length) }));
  });
  return new Promise((resolve) => {
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address() as AddressInfo;
      resolve({ url: `http://127.0.0.1:${port}`, close: () => void server.close() });
    });
    server.unref();
  });
}
