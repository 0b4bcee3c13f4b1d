import { seededRandom } from '@mile-mark/core';
import { listen, textOf } from './http.ts';

/** A mail as it was taken. */
export interface TakenMail {
  id: string;
  to: string;
  name: string;
  subject: string;
  text: string;
}

/**
 * A stand-in for a mail service over HTTP. `POST /messages` takes each id once, however often it comes; `GET /messages`
 * lists what it has. Nothing leaves the machine.
 *
 * @param failing chance that it does not answer a request (503) though it took the mail in, 0 to 1
 */
export async function mailStandIn({ seed, failing = 0 }: { seed: number; failing?: number }): Promise<{
  url: string;
  taken: () => readonly TakenMail[];
  close: () => Promise<void>;
}> {
  const taken = new Map<string, TakenMail>();
  const faults = seededRandom(seed);
  const server = await listen(async (request, response) => {
    const json = (status: number, body: unknown) =>
      void response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body));
    if (request.url !== '/messages') return json(404, { error: 'no such place' });
    if (request.method === 'GET') return json(200, { messages: [...taken.values()] });
    const mail = JSON.parse(await textOf(request)) as TakenMail;
    if (!mail.to.includes('@')) return json(422, { error: 'to: an address is needed' });
    if (!taken.has(mail.id)) taken.set(mail.id, mail);
    if (faults() < failing) return json(503, { error: 'later' });
    json(202, { id: mail.id });
  });
  return { ...server, taken: () => [...taken.values()] };
}
