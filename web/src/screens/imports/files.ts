import { type ImportDraft, type ImportKind, MOST_IMPORT_BYTES } from '@mile-mark/contract/imports';
import { ApiProblem } from '../../api/client.ts';
import { dropFile } from '../../api/imports.ts';
import type { Place } from '../../stores/handedOver.ts';

export interface Rejected {
  name: string;
  message: string;
  /** Where it goes in instead, with the file. */
  elsewhere?: { place: Place; file: File } | undefined;
}

/** The order in which files build on each other. */
const ORDER: ImportKind[] = ['models', 'duties', 'vehicles', 'services', 'readings', 'parts', 'stock', 'orders'];

interface Named {
  kind: ImportKind;
  fileName: string;
}
export const inOrder = <T extends Named>(files: readonly T[]): T[] =>
  [...files].sort((a, b) => ORDER.indexOf(a.kind) - ORDER.indexOf(b.kind) || a.fileName.localeCompare(b.fileName));

const PLACES: readonly Place[] = ['study', 'library'];
const MOST_MB = MOST_IMPORT_BYTES / 1024 / 1024;

/** Keeps dropped files on the server; one too large, or unreadable, is told and left. */
export async function dropFiles(files: readonly File[]): Promise<{ dropped: ImportDraft[]; rejected: Rejected[] }> {
  const dropped: ImportDraft[] = [];
  const rejected: Rejected[] = [];
  for (const file of files) {
    if (file.size > MOST_IMPORT_BYTES) {
      const size = Math.round(file.size / 1048576);
      const message = `${size} MB is too large; up to ${MOST_MB} MB is accepted. Split the file.`;
      rejected.push({ name: file.name, message });
      continue;
    }
    try {
      dropped.push(await dropFile(file));
    } catch (error) {
      const message = error instanceof Error ? error.message : 'The file could not be read.';
      const place = PLACES.find((one) => error instanceof ApiProblem && error.of(`file.${one}`) !== undefined);
      rejected.push({ name: file.name, message, elsewhere: place && { place, file } });
    }
  }
  return { dropped: inOrder(dropped), rejected };
}
