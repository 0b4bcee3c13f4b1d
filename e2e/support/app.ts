import { test as base, expect, type Page } from '@playwright/test';
import { spawn, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import path from 'node:path';
import pg from 'pg';

const ROOT = path.resolve(import.meta.dirname, '../..');

export interface App {
  url: string;
  databaseUrl: string;
  process: ChildProcess;
}

export interface AppOptions {
  demo: boolean;
  today: string;
  /** Any free one, where left out. */
  port?: number;
  /** Both, where left out. A worker answers nobody: it is there as soon as it is begun. */
  role?: 'web' | 'worker';
}

/** A database of its own on the test cluster, dropped afterwards. */
export async function withDatabase<T>(use: (url: string) => Promise<T>): Promise<T> {
  const admin = process.env.TEST_DATABASE_URL;
  if (!admin) throw new Error('TEST_DATABASE_URL is not set: run these tests through npm test.');
  const name = `e2e_${randomBytes(6).toString('hex')}`;
  const client = new pg.Client({ connectionString: admin });
  await client.connect();
  await client.query(`create database ${name}`);
  try {
    return await use(admin.replace(/\/[^/]*$/, `/${name}`));
  } finally {
    await client.query(`drop database ${name} with (force)`);
    await client.end();
  }
}

/** Starts the built server on a free port and waits until it says where it is. */
export async function startServer(databaseUrl: string, { demo, today, port = 0, role }: AppOptions): Promise<App> {
  const server = spawn(process.execPath, [path.join(ROOT, 'server/dist/main.js')], {
    env: {
      ...process.env,
      DATABASE_URL: databaseUrl,
      PORT: String(port),
      TODAY: today,
      MILEMARK_DEMO: demo ? '1' : '0',
      ...(role ? { MILEMARK_ROLE: role } : {}),
      MILEMARK_WEB: path.join(ROOT, 'web/dist'),
    },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  if (role === 'worker') {
    server.stdout.resume();
    server.stderr.resume();
    return { url: '', databaseUrl, process: server };
  }
  let said = '';
  const url = await new Promise<string>((resolve, reject) => {
    const listen = (chunk: Buffer) => {
      said += chunk.toString();
      const found = /Mile Mark is at (http\S+)/.exec(said);
      if (found?.[1]) resolve(found[1]);
    };
    server.stdout.on('data', listen);
    server.stderr.on('data', listen);
    server.on('exit', () => reject(new Error(`the server ended:\n${said}`)));
  });
  return { url, databaseUrl, process: server };
}

export async function stop({ process: server }: App): Promise<void> {
  if (server.exitCode !== null) return;
  const ended = new Promise((resolve) => server.on('exit', resolve));
  server.kill('SIGTERM');
  await ended;
}

/** Tests with an application of their own for each file (worker): `app` is running, `options` say how. */
export const test = base.extend<object, { options: AppOptions; app: App }>({
  options: [
    { demo: true, today: '2026-11-20' },
    { option: true, scope: 'worker' },
  ],
  app: [
    async ({ options }, use) => {
      await withDatabase(async (databaseUrl) => {
        const app = await startServer(databaseUrl, options);
        await use(app);
        await stop(app);
      });
    },
    { scope: 'worker', timeout: 240_000 },
  ],
});

export async function signIn(page: Page, app: App, address = 'coordinator'): Promise<void> {
  await page.goto(`${app.url}/sign-in`);
  await page.getByLabel('E-mail address').fill(`${address}@linden-vale.example`);
  await page.getByLabel('Password').fill('milk-before-dawn');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();
}

/** Signed in without the form, for what is not about that: no page is open yet. */
export async function signInAtOnce(page: Page, app: App, address = 'coordinator'): Promise<void> {
  const answer = await page.request.post(`${app.url}/api/session`, {
    headers: { origin: app.url },
    data: { email: `${address}@linden-vale.example`, password: 'milk-before-dawn' },
  });
  expect(answer.status()).toBe(200);
}

export const fixture = (name: string): string => path.join(ROOT, 'e2e/fixtures', name);
export { expect };

/** Waits until the device keeps the application itself: only then does a page open without a network. */
export async function keptOnDevice(page: Page): Promise<void> {
  await page.evaluate(async () => {
    await navigator.serviceWorker.ready;
    if (navigator.serviceWorker.controller) return;
    await new Promise((taken) => navigator.serviceWorker.addEventListener('controllerchange', taken, { once: true }));
  });
}
