export { mountImports } from './routes.ts';
export { look, type Looked } from './look.ts';
export type { ReadingRecord } from './readingRecord.ts';
