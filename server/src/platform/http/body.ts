import express, { type Request, type RequestHandler, type Response } from 'express';
import type { Room } from '@mile-mark/contract';
import { ApiError } from '../errors.ts';

const MB = 1024 * 1024;

/** What each kind of body may weigh: a file comes as base64, a third longer, with room for the rest of the request. */
const ROOMS: Record<Room, { bytes: number; field: string; accepted: string }> = {
  form: { bytes: MB / 4, field: 'body', accepted: '256 kB' },
  list: { bytes: 4 * MB, field: 'body', accepted: '4 MB' },
  photo: { bytes: 2.5 * MB, field: 'jpegBase64', accepted: '1.5 MB' },
  file: { bytes: 16 * MB, field: 'file', accepted: '10 MB' },
};

const readerOf = (room: Room): RequestHandler => express.json({ limit: ROOMS[room].bytes });
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
    if (type !== 'entity.too.large') throw error;
    const { field, accepted } = ROOMS[room];
    const message = `Up to ${accepted} is accepted.`;
    throw new ApiError('too_large', message, [{ field, message }]);
  }
  return request.body as unknown;
}
