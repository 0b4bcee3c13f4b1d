import { z } from 'zod';
import { Id } from '../common.ts';
import { IdParam, type Endpoint } from '../endpoint.ts';
import {
  ImportDetail,
  ImportPreview,
  ImportRequest,
  ImportResult,
  ImportSummaries,
  RowMended,
  RowResult,
  ImportWithdrawal,
  ImportWithdrawn,
} from './schemas.ts';
import { IMPORTS_ROUTES } from './routes.ts';

/** Routes of files taken in. */
export const IMPORTS_ENDPOINTS = {
  imports: {
    ...IMPORTS_ROUTES.imports,
    action: 'import',
    summary: 'Imports so far',
    response: ImportSummaries,
    status: 200,
  },
  startImport: {
    ...IMPORTS_ROUTES.startImport,
    action: 'import',
    summary: 'Look at a CSV file (dryRun) or take it in',
    body: ImportRequest,
    response: z.union([ImportPreview, ImportResult]),
    status: 200,
  },
  importDetail: {
    ...IMPORTS_ROUTES.importDetail,
    action: 'import',
    summary: 'One import with its rows still open',
    params: IdParam,
    response: ImportDetail,
    status: 200,
  },
  importRefused: {
    ...IMPORTS_ROUTES.importRefused,
    action: 'import',
    summary: 'Rows not taken, as CSV to mend and import again',
    params: IdParam,
    response: z.string(),
    status: 200,
    contentType: 'text/csv',
  },
  fixRow: {
    ...IMPORTS_ROUTES.fixRow,
    action: 'import',
    summary: 'Take a mended row, or dismiss it',
    params: z.object({ id: Id, line: z.coerce.number().int() }),
    body: RowMended,
    response: RowResult,
    status: 200,
  },
  withdrawImport: {
    ...IMPORTS_ROUTES.withdrawImport,
    action: 'import',
    summary: 'Take an import of readings back whole, while nothing later rests on it',
    params: IdParam,
    body: ImportWithdrawal,
    response: ImportWithdrawn,
    status: 201,
  },
} as const satisfies Record<string, Endpoint>;
