/** Method and path of the routes of the whole record: out as one archive, in again, and who did what. */
export const ARCHIVE_ROUTES = {
  archive: { method: 'get', path: '/api/archive' },
  takeInArchive: { method: 'post', path: '/api/archive' },
  trail: { method: 'get', path: '/api/trail' },
} as const;
