import type { Pool } from '../../platform/compute/pool.ts';
import { ApiError, type ApiErrorCode, type FieldError } from '../../platform/errors.ts';
import { type ReadAs, readSheet, type Sheet } from './understand/sheet.ts';

/** A refusal as it comes out of a thread: a thrown error would lose what it says of its field. */
type Answer = { sheet: Sheet } | { refused: { code: ApiErrorCode; message: string; errors: FieldError[] } };

/** What threads do for imports. */
export const IMPORT_TASKS = {
  'read-sheet': async ({ bytes, as }: { bytes: Uint8Array; as: ReadAs }): Promise<Answer> => {
    try {
      return { sheet: await readSheet(bytes, as) };
    } catch (error) {
      if (!(error instanceof ApiError)) throw error;
      return { refused: { code: error.code, message: error.message, errors: error.errors } };
    }
  },
};

/** Reads a text file or a workbook in a thread of the pool. @throws ApiError what `readSheet` refuses */
export async function readInPool(pool: Pool, bytes: Uint8Array, as: ReadAs): Promise<Sheet> {
  const answer = (await pool.run('read-sheet', { bytes, as })) as Answer;
  if ('sheet' in answer) return answer.sheet;
  const { code, message, errors } = answer.refused;
  throw new ApiError(code, message, errors);
}
