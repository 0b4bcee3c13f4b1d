import type { App } from './app.ts';

/** Somebody signed in, without a browser. */
export interface Client {
  post: (path: string, body: unknown) => Promise<{ status: number; body: Record<string, unknown> }>;
  items: <T>(path: string) => Promise<T[]>;
  /** The same person at another process of the same database. */
  at: (app: Pick<App, 'url'>) => Client;
}

export async function signedIn({ url }: Pick<App, 'url'>, address = 'coordinator'): Promise<Client> {
  const session = await fetch(`${url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email: `${address}@linden-vale.example`, password: 'milk-before-dawn' }),
    signal: AbortSignal.timeout(20_000),
  });
  return clientAt(url, session.headers.get('set-cookie')?.split(';')[0] ?? '');
}

function clientAt(url: string, cookie: string): Client {
  const send = (path: string, init: RequestInit = {}) =>
    fetch(url + path, { ...init, signal: AbortSignal.timeout(20_000) });
  return {
    post: async (path, body) => {
      const headers = { 'content-type': 'application/json', cookie };
      const answer = await send(path, { method: 'POST', headers, body: JSON.stringify(body) });
      return { status: answer.status, body: (await answer.json()) as Record<string, unknown> };
    },
    items: async <T>(path: string) =>
      ((await (await send(path, { headers: { cookie } })).json()) as { items: T[] }).items,
    at: (app) => clientAt(app.url, cookie),
  };
}

/** Ends a process at once, as a power cut does. */
export const kill = ({ process: server }: Pick<App, 'process'>) =>
  new Promise<void>((resolve) => {
    server.removeAllListeners('exit');
    server.on('exit', () => resolve());
    server.kill('SIGKILL');
  });
