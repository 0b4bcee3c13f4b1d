import { createHash } from 'node:crypto';
import { promisify } from 'node:util';
import { gzip } from 'node:zlib';

/** A body already serialised, with its tag: sent as it is, or as 304 where the caller has it. */
export interface Prepared {
  prepared: string;
  /** The same, gzip. */
  compressed: Buffer;
  tag: string;
}

const compress = promisify(gzip);

/** The tag tells the content: a caller who has the same from whichever process need not be sent it. */
export async function prepareAnswer(answer: unknown): Promise<Prepared> {
  const prepared = JSON.stringify(answer);
  const tag = `"${createHash('sha256').update(prepared).digest('base64url').slice(0, 27)}"`;
  return { tag, prepared, compressed: await compress(prepared) };
}
