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
} from './schemas.ts';

/** Routes of files taken in. */
export const IMPORTS_ENDPOINTS = {
  imports: {
    method: 'get',
    path: '/api/imports',
    action: 'import',
    summary: 'Imports so far',
    response: ImportSummaries,
    status: 200,
  },
  startImport: {
    method: 'post',
    path: '/api/imports',
    action: 'import',
    summary: 'Look at a CSV file (dryRun) or take it in',
    body: ImportRequest,
    response: z.union([ImportPreview, ImportResult]),
    status: 200,
  },
  importDetail: {
    method: 'get',
    path: '/api/imports/{id}',
    action: 'import',
    summary: 'One import with its rows still open',
    params: IdParam,
    response: ImportDetail,
    status: 200,
  },
  importRefused: {
    method: 'get',
    path: '/api/imports/{id}/open.csv',
    action: 'import',
    summary: 'Rows not taken, as CSV to mend and import again',
    params: IdParam,
    response: z.string(),
    status: 200,
    contentType: 'text/csv',
  },
  fixRow: {
    method: 'post',
    path: '/api/imports/{id}/rows/{line}',
    action: 'import',
    summary: 'Take a mended row, or dismiss it',
    params: z.object({ id: Id, line: z.coerce.number().int() }),
    body: RowMended,
    response: RowResult,
    status: 200,
  },
} as const satisfies Record<string, Endpoint>;
