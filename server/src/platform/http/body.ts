import express, { type Request, type RequestHandler, type Response } from 'express';
import type { Room } from '@mile-mark/contract';
import { ApiError } from '../errors.ts';

const MB = 1024 * 1024;

/**
 * What each kind of body may weigh, and how many values it may have: a file comes as base64, a third longer, with room for
 * the rest of the request, and answers to a sheet of 50,000 rows have as many values.
 */
const ROOMS: Record<Room, { bytes: number; field: string; accepted: string; values: number }> = {
  form: { bytes: MB / 4, field: 'body', accepted: '256 kB', values: 20_000 },
  list: { bytes: 4 * MB, field: 'body', accepted: '4 MB', values: 200_000 },
  photo: { bytes: 2.5 * MB, field: 'jpegBase64', accepted: '1.5 MB', values: 1000 },
  file: { bytes: 16 * MB, field: 'file', accepted: '10 MB', values: 400_000 },
};

const TOO_MANY = 'values.too.many';
const [QUOTE, BACKSLASH] = [0x22, 0x5c];
const [COMMA, LIST, OBJECT] = [0x2c, 0x5b, 0x7b];

/**
 * Whether JSON has more values than so many, told without reading them: what 16 MB of empty objects make would hold the
 * thread that answers for seconds, while one long text is read in a moment.
 */
export function hasMoreValues(json: Buffer, most: number): boolean {
  let values = 1;
  for (let i = 0; i < json.length; i += 1) {
    const byte = json[i];
    if (byte === QUOTE) {
      i = endOfText(json, i);
      if (i < 0) return false;
    } else if (byte === COMMA || byte === LIST || byte === OBJECT) {
      values += 1;
      if (values > most) return true;
    }
  }
  return false;
}

/** Where a text that begins at a quote ends; less than nought where it does not. */
function endOfText(json: Buffer, start: number): number {
  for (let end = json.indexOf(QUOTE, start + 1); end >= 0; end = json.indexOf(QUOTE, end + 1)) {
    let slashes = 0;
    while (json[end - 1 - slashes] === BACKSLASH) slashes += 1;
    if (slashes % 2 === 0) return end;
  }
  return -1;
}

const readerOf = (room: Room): RequestHandler =>
  express.json({
    limit: ROOMS[room].bytes,
    verify: (_request, _response, json) => {
      if (hasMoreValues(json, ROOMS[room].values))
        throw Object.assign(new Error('too many values'), { type: TOO_MANY });
    },
  });
const READERS: Record<Room, RequestHandler> = {
  form: readerOf('form'),
  list: readerOf('list'),
  photo: readerOf('photo'),
  file: readerOf('file'),
};

/**
 * Reads the JSON body of a request. It is called once it is known that the caller may send one: nobody else has
 * anything read.
 *
 * @throws ApiError `too_large`, naming the field and what would be accepted; `malformed` for what is no JSON
 */
export async function readBody(request: Request, response: Response, room: Room): Promise<unknown> {
  try {
    await new Promise<void>((resolve, reject) => {
      const read = (failure?: Error | string) => {
        if (failure instanceof Error) reject(failure);
        else resolve();
      };
      void READERS[room](request, response, read);
    });
  } catch (error) {
    const { type } = error as { type?: string };
    if (type === 'entity.parse.failed') throw new ApiError('malformed', 'The body is not JSON.');
    // The caller went away before everything had come: nobody reads this.
    if (type === 'request.aborted' || type === 'stream.not.readable') throw new ApiError('malformed');
    const { field, accepted, values } = ROOMS[room];
    if (type === TOO_MANY) {
      const message = `Up to ${values.toLocaleString('en-US')} values are accepted.`;
      throw new ApiError('too_large', message, [{ field: 'body', message }]);
    }
    if (type !== 'entity.too.large') throw error;
    const message = `Up to ${accepted} is accepted.`;
    throw new ApiError('too_large', message, [{ field, message }]);
  }
  return request.body as unknown;
}
