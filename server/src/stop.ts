import type { IncomingMessage, RequestListener, Server, ServerResponse } from 'node:http';
import { setTimeout } from 'node:timers/promises';

/** So long requests under way may take when the server is asked to stop, ms. */
const FINISH_MS = 10_000;
const LOOK_MS = 20;

/** A server's requests: counted while they are under way, refused once it is to stop. */
export interface Gate {
  listener: RequestListener;
  /** Refuses what comes from now on, and waits for what is under way. @returns how many were cut off */
  close: (server: Server, patienceMs?: number) => Promise<number>;
}

export function createGate(app: RequestListener): Gate {
  let stopping = false;
  let underWay = 0;
  return {
    listener: (request, response) => {
      if (stopping) {
        refuse(request, response);
        return;
      }
      underWay += 1;
      response.once('close', () => (underWay -= 1));
      app(request, response);
    },
    close: async (server, patienceMs = FINISH_MS) => {
      stopping = true;
      const until = Date.now() + patienceMs;
      while (underWay > 0 && Date.now() < until) await setTimeout(LOOK_MS);
      const cut = underWay;
      server.close();
      server.closeAllConnections();
      return cut;
    },
  };
}

function refuse(request: IncomingMessage, response: ServerResponse): void {
  request.resume();
  response.writeHead(503, {
    'content-type': 'application/problem+json',
    'retry-after': '5',
    connection: 'close',
  });
  response.end(
    JSON.stringify({
      type: 'urn:mile-mark:problem:unavailable',
      title: 'The server is stopping; try again in a moment',
      status: 503,
    }),
  );
}
