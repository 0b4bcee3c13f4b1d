import { once } from 'node:events';
import type { Express, Request } from 'express';
import type { AppContext } from '../../platform/http/context.ts';
import { mount } from '../../platform/http/mount.ts';
import { refusedArchive } from './readArchive.ts';
import { takeInArchive } from './takeIn.ts';
import { readTrail } from './trail.ts';
import { writeArchive } from './writeArchive.ts';

const MOST_BYTES = 512 * 1024 * 1024;

export function mountArchive(app: Express, context: AppContext): void {
  mount(app, context, 'archive', async ({ em }, response) => {
    const today = context.today();
    response.status(200).type('application/zip');
    response.setHeader('Content-Disposition', `attachment; filename="mile-mark-${today}.zip"`);
    response.setHeader('Cache-Control', 'no-store');
    try {
      await writeArchive(em, today, async (chunk) => {
        if (response.destroyed) throw new Error('who asked for the archive went away');
        if (!response.write(chunk)) await Promise.race([once(response, 'drain'), once(response, 'close')]);
      });
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
