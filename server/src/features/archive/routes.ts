import { once } from 'node:events';
import type { Express, Request, Response } from 'express';
import type { AppContext } from '../../platform/http/context.ts';
import { mount } from '../../platform/http/mount.ts';
import { lanes } from '../../platform/lanes.ts';
import { refusedArchive } from './readArchive.ts';
import { takeInArchive } from './takeIn.ts';
import { readTrail } from './trail.ts';
import { writeArchive } from './writeArchive.ts';

const MOST_BYTES = 512 * 1024 * 1024;
/** Who fetches nothing of an archive for so long has gone, whatever their connection says, ms. */
const STALLED_MS = 60_000;

export function mountArchive(app: Express, context: AppContext): void {
  // An archive holds a connection for as long as it is fetched: however many are asked for, one is written at a time.
  const inTurn = lanes(1);
  mount(app, context, 'archive', async ({ em }, response) => {
    const today = context.today();
    response.status(200).type('application/zip');
    response.setHeader('Content-Disposition', `attachment; filename="mile-mark-${today}.zip"`);
    response.setHeader('Cache-Control', 'no-store');
    try {
      await inTurn(async () => writeArchive(em, today, async (chunk) => sendChunk(response, chunk)));
      response.end();
    } catch (error) {
      // An archive that breaks off is none: the connection does, so that nobody keeps half of it for the whole.
      if (!response.headersSent) throw error;
      context.logger.error({ err: error }, 'writing an archive');
      response.destroy();
    }
    return '';
  });
  mount(app, context, 'takeInArchive', async ({ run }, { req }) => run(takeInArchive, { bytes: await bytesOf(req) }));
  mount(app, context, 'trail', async ({ em, query }) => readTrail(em, query));
}

/** Sends a part when those before it are on their way. @throws Error where nobody fetches it any more */
async function sendChunk(response: Response, chunk: Uint8Array): Promise<void> {
  if (response.destroyed) throw new Error('who asked for the archive went away');
  if (response.write(chunk)) return;
  const settled = new AbortController();
  const signal = AbortSignal.any([settled.signal, AbortSignal.timeout(STALLED_MS)]);
  try {
    await Promise.race([once(response, 'drain', { signal }), once(response, 'close', { signal })]);
  } finally {
    // Whichever did not come is not listened for any more.
    settled.abort();
  }
}

/** The file that is sent, once it is known who sends it. */
async function bytesOf(request: Request): Promise<Uint8Array> {
  const parts: Uint8Array[] = [];
  let size = 0;
  if (request.is('application/zip'))
    for await (const part of request as AsyncIterable<Uint8Array>) {
      size += part.length;
      if (size > MOST_BYTES) throw refusedArchive('This archive is larger than 512 MB.');
      parts.push(part);
    }
  if (size === 0) throw refusedArchive('An archive is sent as it is, as application/zip.');
  return Buffer.concat(parts);
}
