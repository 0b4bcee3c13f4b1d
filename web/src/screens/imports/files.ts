import {
  type ImportKind,
  type ImportRequest,
  type ImportResult,
  MOST_IMPORT_BYTES,
  type RowChoice,
  type Understanding,
} from '@mile-mark/contract/imports';
import { preview } from '../../api/imports.ts';

/** A file a person dropped, on its way in. */
export interface Dropped {
  id: string;
  name: string;
  contentBase64: string;
  kind: ImportKind;
  /** What the person changed or said about how the file is read. */
  stated: Partial<Understanding>;
  edits: Record<string, string[]>;
  choices: Record<string, RowChoice>;
  result?: ImportResult;
}

export interface Rejected {
  name: string;
  message: string;
}

/** The order in which files build on each other. */
const ORDER: ImportKind[] = ['models', 'duties', 'vehicles', 'services', 'readings', 'parts', 'stock', 'orders'];

/** Reads dropped files and finds what kind each is; one too large, or unreadable, is told and left. */
export async function readFiles(files: readonly File[]): Promise<{ dropped: Dropped[]; rejected: Rejected[] }> {
  const dropped: Dropped[] = [];
  const rejected: Rejected[] = [];
  for (const file of files) {
    if (file.size > MOST_IMPORT_BYTES) {
      rejected.push({
        name: file.name,
        message: `${Math.round(file.size / 1048576)} MB is too large; up to 10 MB is accepted. Split the file.`,
      });
      continue;
    }
    try {
      const contentBase64 = await toBase64(file);
      const looked = await preview({ fileName: file.name, contentBase64 });
      dropped.push({
        id: crypto.randomUUID(),
        name: file.name,
        contentBase64,
        kind: looked.understanding.kind,
        stated: {},
        edits: {},
        choices: {},
      });
    } catch (error) {
      rejected.push({
        name: file.name,
        message: error instanceof Error ? error.message : 'The file could not be read.',
      });
    }
  }
  dropped.sort((a, b) => ORDER.indexOf(a.kind) - ORDER.indexOf(b.kind) || a.name.localeCompare(b.name));
  return { dropped, rejected };
}

function toBase64(file: File): Promise<string> {
  return new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve((reader.result as string).replace(/^data:[^,]*,/, ''));
    reader.onerror = () => reject(new Error('The file could not be read.'));
    reader.readAsDataURL(file);
  });
}

export function requestOf(file: Dropped): ImportRequest {
  return {
    id: file.id,
    fileName: file.name,
    contentBase64: file.contentBase64,
    understanding: file.stated,
    edits: file.edits,
    choices: file.choices,
  };
}
