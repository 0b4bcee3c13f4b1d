import { Unzip, UnzipInflate, UnzipPassThrough } from 'fflate';
import { isArchive } from '../../platform/documents/workbook.ts';
import { ApiError } from '../../platform/errors.ts';
import { MANIFEST, Manifest } from './format.ts';

/** An archive unpacked. */
export interface Archive {
  manifest: Manifest;
  /** Bytes of a file in it; empty where there is none. */
  file: (name: string) => Uint8Array;
  /** Names of its files under this one. */
  under: (prefix: string) => string[];
}

/** An archive that unpacks to more than this is refused on the way. */
const MOST_UNPACKED_BYTES = 2 * 1024 ** 3;
const CHUNK_BYTES = 64 * 1024;

const NO_ARCHIVE = 'This file is no ZIP archive, or it breaks off. The archive as it was downloaded is accepted.';

export function refusedArchive(message: string): ApiError {
  return new ApiError('invalid', message, [{ field: 'file', message }]);
}

/** Unpacks an archive. @throws ApiError where it is none of ours, broken, or too much */
export function readArchive(bytes: Uint8Array): Archive {
  if (!isArchive(bytes)) throw refusedArchive(NO_ARCHIVE);
  const files = new Map<string, Uint8Array[]>();
  let unpacked = 0;
  const unzip = new Unzip((entry) => {
    // The tables for a spreadsheet say nothing that the record does not.
    if (entry.name.startsWith('tables/')) return;
    const parts: Uint8Array[] = [];
    files.set(entry.name, parts);
    entry.ondata = (error, chunk) => {
      if (error) throw error;
      unpacked += chunk.length;
      if (unpacked > MOST_UNPACKED_BYTES) throw refusedArchive('This archive unpacks to more than 2 GB.');
      parts.push(chunk);
    };
    entry.start();
  });
  unzip.register(UnzipInflate);
  unzip.register(UnzipPassThrough);
  try {
    for (let at = 0; at < bytes.length; at += CHUNK_BYTES)
      unzip.push(bytes.subarray(at, at + CHUNK_BYTES), at + CHUNK_BYTES >= bytes.length);
  } catch (error) {
    if (error instanceof ApiError) throw error;
    throw refusedArchive(NO_ARCHIVE);
  }
  const file = (name: string) => Buffer.concat(files.get(name) ?? []);
  return {
    manifest: manifestIn(file(MANIFEST)),
    file,
    under: (prefix) => [...files.keys()].filter((name) => name.startsWith(prefix)),
  };
}

function manifestIn(bytes: Uint8Array): Manifest {
  const wanted = 'The archive of a Mile Mark installation is accepted; this ZIP archive is another.';
  try {
    const parsed = Manifest.safeParse(JSON.parse(new TextDecoder().decode(bytes)));
    if (parsed.success) return parsed.data;
  } catch {
    // It has none, or one that is no JSON.
  }
  throw refusedArchive(wanted);
}
