import { spawn, type ChildProcess } from 'node:child_process';
import path from 'node:path';

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
    // It ends with whoever started it, also where that is killed: none goes on working behind the tests that follow.
    stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
  });
  if (role === 'worker') {
    server.stdout?.resume();
    server.stderr?.resume();
    return { url: '', databaseUrl, process: server };
  }
  let said = '';
  const url = await new Promise<string>((resolve, reject) => {
    const listen = (chunk: Buffer) => {
      said += chunk.toString();
      const found = /Mile Mark is at (http\S+)/.exec(said);
      if (found?.[1]) resolve(found[1]);
    };
    server.stdout?.on('data', listen);
    server.stderr?.on('data', listen);
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
