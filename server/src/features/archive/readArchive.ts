import { unzip, type UnzipFileInfo, type Unzipped } from 'fflate';
import { isArchive } from '../../platform/documents/workbook.ts';
import { ApiError } from '../../platform/errors.ts';
import { MANIFEST, Manifest } from './format.ts';

/** An archive unpacked. */
export interface Archive {
  manifest: Manifest;
  /** Bytes of a file in it; empty where there is none. */
  file: (name: string) => Uint8Array;
}

/** An archive that unpacks to more than this is refused. */
const MOST_UNPACKED_BYTES = 2 * 1024 ** 3;

const NO_ARCHIVE = 'This file is no ZIP archive, or it breaks off. The archive as it was downloaded is accepted.';

export function refusedArchive(message: string): ApiError {
  return new ApiError('invalid', message, [{ field: 'file', message }]);
}

/**
 * Unpacks an archive, by the directory at its end and off the thread that answers others.
 *
 * @throws ApiError where it is none of ours, broken, or too much
 */
export async function readArchive(bytes: Uint8Array): Promise<Archive> {
  if (!isArchive(bytes)) throw refusedArchive(NO_ARCHIVE);
  const files = await unpack(bytes);
  const file = (name: string) => files[name] ?? new Uint8Array();
  return { manifest: manifestIn(file(MANIFEST)), file };
}

function unpack(bytes: Uint8Array): Promise<Unzipped> {
  let unpacked = 0;
  // The tables for a spreadsheet say nothing that the record does not. Room is made for what the directory says, no more.
  const filter = ({ name, originalSize }: UnzipFileInfo) => {
    if (name.startsWith('tables/')) return false;
    unpacked += originalSize;
    return unpacked <= MOST_UNPACKED_BYTES;
  };
  return new Promise((resolve, reject) => {
    unzip(bytes, { filter }, (error, files) => {
      if (unpacked > MOST_UNPACKED_BYTES) reject(refusedArchive('This archive unpacks to more than 2 GB.'));
      else if (error) reject(refusedArchive(NO_ARCHIVE));
      else resolve(files);
    });
  });
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
