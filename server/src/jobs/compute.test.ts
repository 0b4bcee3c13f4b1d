import { afterEach, describe, expect, it } from '@jest/globals';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import type { VehicleInput } from '@mile-mark/core';
import { createComputer, type Computer } from './compute.ts';

/** Threads that live, refuse and die, as a script of the test's own makes them. */
const SCRIPT = `
const { parentPort } = require('node:worker_threads');
parentPort.on('message', ({ inputs }) => {
  const today = inputs.map(({ today }) => today);
  if (today.includes('dies')) process.exit(3);
  if (today.includes('throws')) throw new Error('out of memory');
  if (today.includes('fails')) return parentPort.postMessage({ ok: false, message: 'no such axle' });
  parentPort.postMessage({ ok: true, result: { hands: today } });
});`;

let folder: string;
let computer: Computer;
afterEach(async () => {
  await computer.close();
  await rm(folder, { recursive: true });
});

async function withThreads(threads: number): Promise<(days: readonly string[]) => Promise<unknown>> {
  folder = await mkdtemp(path.join(tmpdir(), 'threads-'));
  await writeFile(path.join(folder, 'script.cjs'), SCRIPT);
  computer = createComputer(threads, pathToFileURL(path.join(folder, 'script.cjs')));
  return (days) => computer.hands(days, (today) => ({ today }) as VehicleInput);
}
const many = (day: string, count = 30) => Array.from({ length: count }, (_, i) => `${day} ${i}`);

describe('threads that compute', () => {
  it('give results in the order of the items, over many chunks', async () => {
    const hands = await withThreads(2);
    expect(await hands(many('2026-11-20', 260))).toEqual(many('2026-11-20', 260));
  });

  it.each([
    ['ends', 'dies', /ended with code 3/],
    ['throws', 'throws', /out of memory/],
    ['answers that it failed', 'fails', /no such axle/],
  ])('go on with the next work after a thread that %s', async (_, day, told) => {
    const hands = await withThreads(1);
    await expect(hands([...many('2026-11-20', 10), day])).rejects.toThrow(told);
    expect(await hands(many('2026-11-21'))).toEqual(many('2026-11-21'));
  });

  it('hand a new thread to work that waits for one that dies', async () => {
    const hands = await withThreads(1);
    const doomed = hands([...many('2026-11-20', 10), 'dies']);
    const waits = hands(many('2026-11-22'));
    await expect(doomed).rejects.toThrow(/ended/);
    expect(await waits).toEqual(many('2026-11-22'));
  });
});
