import { z } from 'zod';
import type { Endpoint } from '../endpoint.ts';
import { ARCHIVE_ROUTES } from './routes.ts';
import { ArchiveTaken, Trail, TrailQuery } from './schemas.ts';

/** Routes of the whole record: out as one archive, in again, and who did what. */
export const ARCHIVE_ENDPOINTS = {
  archive: {
    ...ARCHIVE_ROUTES.archive,
    action: 'administer',
    summary: 'The whole record as one ZIP archive: a CSV and a JSON file a table, and photos; no password, no session',
    response: z.string(),
    contentType: 'application/zip',
    status: 200,
  },
  takeInArchive: {
    ...ARCHIVE_ROUTES.takeInArchive,
    action: 'administer',
    summary: 'Take such an archive (application/zip) into an installation that has nothing on record yet',
    response: ArchiveTaken,
    status: 200,
  },
  trail: {
    ...ARCHIVE_ROUTES.trail,
    action: 'administer',
    summary: 'Who did what, newest first; of one vehicle or by one person, where asked',
    query: TrailQuery,
    response: Trail,
    status: 200,
  },
} as const satisfies Record<string, Endpoint>;
