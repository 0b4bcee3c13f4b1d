export { ARCHIVE_ENDPOINTS } from './endpoints.ts';
export { ArchiveTaken, Deed, Trail, TrailQuery } from './schemas.ts';
