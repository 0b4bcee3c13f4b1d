import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { brotliCompressSync } from 'node:zlib';
import supertest from 'supertest';
import type { Problem } from '@mile-mark/contract';
import { createTestApp, type TestApp } from './testing/app.ts';

/** As a build lists its files: a screen that two others rest on, in a ring. */
const MANIFEST = {
  'src/screens/forecasts/ahead/Ahead.tsx': { file: 'assets/Ahead-1.js', imports: ['_base.js', '_drawing.js'] },
  'src/screens/plan/Plan.tsx': { file: 'assets/Plan-1.js', imports: ['_base.js'] },
  '_base.js': { file: 'assets/base-1.js', imports: ['_drawing.js'] },
  '_drawing.js': { file: 'assets/drawing-1.js', imports: ['_base.js'] },
};

let folder: string;
let test: TestApp;
beforeAll(async () => {
  folder = await mkdtemp(path.join(tmpdir(), 'web-'));
  await mkdir(path.join(folder, 'assets'));
  await writeFile(path.join(folder, 'index.html'), '<!doctype html><title>The page</title>');
  await writeFile(path.join(folder, 'assets', 'app-1.js'), 'export {};');
  await writeFile(path.join(folder, 'assets', 'app-1.js.br'), brotliCompressSync('export {};'));
  await mkdir(path.join(folder, '.vite'));
  await writeFile(path.join(folder, '.vite', 'manifest.json'), JSON.stringify(MANIFEST));
  await writeFile(path.join(folder, 'mark.svg'), '<svg/>');
  test = await createTestApp({ webFolder: folder });
});
afterAll(async () => {
  await test.close();
  await rm(folder, { recursive: true });
});
const get = (address: string) => supertest(test.app).get(address);
const problemOf = ({ body }: { body: unknown }) => body as Problem;

describe('the interface', () => {
  it.each(['/', '/measure/T02', '/vehicles/V04/why/1', '/no-such-place'])(
    'is served at %s, asked for anew each time',
    async (address) => {
      const answer = await get(address).expect(200);
      expect(answer.text).toContain('The page');
      expect(answer.headers['cache-control']).toBe('no-cache');
    },
  );

  it('keeps its hashed parts for a year, and lets nothing else run or frame it', async () => {
    const part = await get('/assets/app-1.js').expect(200);
    expect(part.headers['cache-control']).toContain('immutable');
    const policy = part.headers['content-security-policy'] ?? '';
    expect(policy).toContain("script-src 'self';");
    expect(policy).not.toContain('upgrade-insecure-requests');
    expect(policy).toContain("frame-ancestors 'self'");
    expect(part.headers['x-powered-by']).toBeUndefined();
    await get('/mark.svg').expect(200);
  });

  it('comes pressed where the browser takes that, else as it is', async () => {
    const pressed = await get('/assets/app-1.js').set('Accept-Encoding', 'gzip, br').expect(200);
    expect(pressed.headers['content-encoding']).toBe('br');
    expect(pressed.headers['content-type']).toContain('javascript');
    expect(pressed.headers['cache-control']).toContain('immutable');
    const plain = await get('/assets/app-1.js').set('Accept-Encoding', 'identity').expect(200);
    expect([plain.headers['content-encoding'], plain.text]).toEqual([undefined, 'export {};']);
  });

  it('names with its first page what that will ask for, once each, to who may be signed in', async () => {
    const signedIn = () => get('/').set('Cookie', 'milemark_session=whatever').expect(200);
    const links = String((await signedIn()).headers.link).split(', ');
    expect(links.map((link) => /^<([^>]+)>/.exec(link)?.[1])).toEqual([
      '/api/session',
      '/api/mile-marks',
      '/assets/Ahead-1.js',
      '/assets/base-1.js',
      '/assets/drawing-1.js',
    ]);
    expect(links.filter((link) => link.includes('as=fetch'))).toHaveLength(2);
    expect((await get('/').expect(200)).headers.link).toBeUndefined();
    const other = await get('/plan').set('Cookie', 'milemark_session=whatever').expect(200);
    expect(other.headers.link).toBeUndefined();
  });

  it('says that a part of an older version is not there, instead of failing or giving the page for it', async () => {
    const answer = await get('/assets/app-0.js');
    expect([answer.status, problemOf(answer).type]).toEqual([404, 'urn:mile-mark:problem:not_found']);
  });

  it.each(['/assets/..%2f..%2fsecret', '/assets/%00', '/%E0%A4%A'])('gives nothing away for %s', async (address) => {
    const answer = await get(address);
    expect([400, 403, 404]).toContain(answer.status);
    expect(answer.text).not.toContain(folder);
  });
});

describe('a request that can’t be read', () => {
  const send = (address: string) => supertest(test.app).post(address).set('Content-Type', 'application/json');

  it('is told as such where it is no JSON', async () => {
    const answer = await send('/api/session').send('{"email":').expect(400);
    expect(problemOf(answer)).toMatchObject({
      type: 'urn:mile-mark:problem:malformed',
      detail: 'The body is not JSON.',
    });
    expect(answer.headers['content-type']).toContain('application/problem+json');
  });

  it('is told as such where it is encoded as nobody reads', async () => {
    const answer = await send('/api/session').set('Content-Encoding', 'zip-zap').send('{}');
    expect([answer.status, problemOf(answer).type]).toEqual([400, 'urn:mile-mark:problem:malformed']);
    const other = await send('/api/session').set('Content-Type', 'application/json; charset=klingon').send('{}');
    expect(other.status).toBe(400);
  });

  it.each([
    ['/api/readings', 0.3, { field: 'body', message: 'Up to 256 kB is accepted.' }],
    ['/api/studies/imports', 4.1, { field: 'body', message: 'Up to 4 MB is accepted.' }],
    ['/api/photos', 2.6, { field: 'jpegBase64', message: 'Up to 1.5 MB is accepted.' }],
    ['/api/imports', 17, { field: 'file', message: 'Up to 10 MB is accepted.' }],
    ['/api/library/imports', 17, { field: 'file', message: 'Up to 10 MB is accepted.' }],
  ])('is told how much is accepted where it is too large: %s', async (address, megabytes, told) => {
    const body = JSON.stringify({ csv: 'x'.repeat(megabytes * 1024 * 1024) });
    // Nobody is told who is not let in.
    expect((await send(address).send(body)).status).toBe(401);
    const coordinator = await test.as('coordinator');
    const answer = await coordinator.post(address).set('Content-Type', 'application/json').send(body);
    expect([answer.status, problemOf(answer).errors]).toEqual([413, [told]]);
  });

  // Empty objects are read slowest of all: 15 MB of them held everybody for five seconds.
  it.each([
    ['/api/readings', 20_000],
    ['/api/studies/imports', 200_000],
    ['/api/imports', 400_000],
  ])('is told how many values are accepted where there are too many: %s', async (address, most) => {
    const coordinator = await test.as('coordinator');
    const post = (objects: number) =>
      coordinator
        .post(address)
        .set('Content-Type', 'application/json')
        .send(`{"csv":[${'{},'.repeat(objects)}1]}`);
    const answer = await post(most / 2);
    const message = `Up to ${most.toLocaleString('en-US')} values are accepted.`;
    expect([answer.status, problemOf(answer).errors]).toEqual([413, [{ field: 'body', message }]]);
    // What is not too much is read, and refused for what it says.
    expect((await post(most / 2 - 4)).status).toBe(422);
  });

  it('is not there where no route is', async () => {
    const answer = await get('/api/no-such-thing').expect(404);
    expect(problemOf(answer).type).toBe('urn:mile-mark:problem:not_found');
  });

  it('of another origin is refused before anything is read', async () => {
    const answer = await send('/api/session').set('Origin', 'https://elsewhere.example').send('{"email":');
    expect(answer.status).toBe(403);
  });
});

describe('a failure nobody foresaw', () => {
  it('tells nothing of the inside, and that nothing was saved', async () => {
    const broken = await createTestApp();
    const coordinator = await broken.as('coordinator');
    await broken.orm.em.fork().execute('alter table gauge rename to gone');
    const answer = await coordinator.get('/api/gauges');
    expect(answer.status).toBe(500);
    expect(problemOf(answer)).toEqual({
      type: 'urn:mile-mark:problem:fault',
      title: 'Something went wrong here; nothing was saved',
      status: 500,
    });
    await broken.close();
  });
});
