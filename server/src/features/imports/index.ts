export { answerDraft, dropFile, forgetDrafts } from './commands/drafts.ts';
export { takeInDraft } from './commands/takeIn.ts';
export { createDesk } from './desk.ts';
export { previewDraft } from './draftQueries.ts';
export { mountImports } from './routes.ts';
export { look, type Looked } from './look.ts';
export type { ReadingRecord } from './readingRecord.ts';
export { readSheet } from './understand/sheet.ts';
