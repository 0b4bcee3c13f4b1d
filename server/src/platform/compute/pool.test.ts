import { afterEach, describe, expect, it } from '@jest/globals';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { createPool, type Pool } from './pool.ts';

/** Threads that live, refuse, tell how far they are, never end and die, as a script of the test's own makes them. */
const SCRIPT = `
const { parentPort } = require('node:worker_threads');
parentPort.on('message', ({ task, input }) => {
  if (input === 'dies') process.exit(3);
  if (input === 'throws') throw new Error('out of memory');
  if (input === 'never ends') return;
  if (input === 'fails') return parentPort.postMessage({ kind: 'failed', message: 'no such axle' });
  parentPort.postMessage({ kind: 'progress', done: 1, of: 2 });
  parentPort.postMessage({ kind: 'done', result: task + ' ' + input });
});`;

let folder: string | undefined;
let pool: Pool;
afterEach(async () => {
  await pool.close();
  if (folder) await rm(folder, { recursive: true });
  folder = undefined;
});

async function withThreads(threads: number): Promise<Pool> {
  folder = await mkdtemp(path.join(tmpdir(), 'threads-'));
  await writeFile(path.join(folder, 'script.cjs'), SCRIPT);
  pool = createPool({}, pathToFileURL(path.join(folder, 'script.cjs')), threads);
  return pool;
}

describe('the pool of threads', () => {
  it('answers each caller with its own result, more callers than threads', async () => {
    const { run } = await withThreads(2);
    const inputs = Array.from({ length: 30 }, (_, i) => `input ${i}`);
    expect(await Promise.all(inputs.map((input) => run('task', input)))).toEqual(inputs.map((one) => `task ${one}`));
  });

  it.each([
    ['ends', 'dies', /ended with code 3/],
    ['throws', 'throws', /out of memory/],
    ['answers that it failed', 'fails', /no such axle/],
  ])('goes on with the next work after a thread that %s', async (_, input, told) => {
    const { run } = await withThreads(1);
    await expect(run('task', input)).rejects.toThrow(told);
    expect(await run('task', 'well')).toBe('task well');
  });

  it('hands a new thread to work that waits for one that dies', async () => {
    const { run } = await withThreads(1);
    const doomed = run('task', 'dies');
    const waits = run('task', 'waits');
    await expect(doomed).rejects.toThrow(/ended/);
    expect(await waits).toBe('task waits');
  });

  it('lets go first what somebody waits for', async () => {
    const { run } = await withThreads(1);
    const ended: string[] = [];
    const note = (name: string) => () => ended.push(name);
    await Promise.all([
      run('task', 'one').then(note('one')),
      run('task', 'two').then(note('two')),
      run('task', 'three', { first: true }).then(note('three')),
    ]);
    expect(ended).toEqual(['one', 'three', 'two']);
  });

  it('tells how far the work is', async () => {
    const { run } = await withThreads(1);
    const told: number[][] = [];
    await run('task', 'well', { onProgress: (done, of) => told.push([done, of]) });
    expect(told).toEqual([[1, 2]]);
  });

  it('ends work that is no longer wanted, and has a thread for the next', async () => {
    const { run } = await withThreads(1);
    const stop = new AbortController();
    const endless = run('task', 'never ends', { signal: stop.signal });
    stop.abort(new Error('not wanted'));
    await expect(endless).rejects.toThrow('not wanted');
    expect(await run('task', 'well')).toBe('task well');
    await expect(run('task', 'well', { signal: stop.signal })).rejects.toThrow('not wanted');
  });

  it('without threads does the task where it is called, and knows no task that is not there', async () => {
    pool = createPool({ double: (input: number) => input * 2 }, new URL('file:///nowhere'), 0);
    expect(await pool.run('double', 21)).toBe(42);
    await expect(pool.run('halve', 21)).rejects.toThrow('no task halve');
  });
});
