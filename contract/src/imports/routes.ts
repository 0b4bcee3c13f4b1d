/** Method and path of the routes of files taken in. */
export const IMPORTS_ROUTES = {
  imports: { method: 'get', path: '/api/imports' },
  startImport: { method: 'post', path: '/api/imports' },
  importDrafts: { method: 'get', path: '/api/imports/drafts' },
  dropFile: { method: 'post', path: '/api/imports/drafts' },
  importDraft: { method: 'get', path: '/api/imports/drafts/{id}' },
  draftRows: { method: 'get', path: '/api/imports/drafts/{id}/rows' },
  answerDraft: { method: 'post', path: '/api/imports/drafts/{id}/answers' },
  putAwayDraft: { method: 'delete', path: '/api/imports/drafts/{id}' },
  takeInDraft: { method: 'post', path: '/api/imports/drafts/{id}/import' },
  draftProgress: { method: 'get', path: '/api/imports/drafts/{id}/progress' },
  stopDraft: { method: 'post', path: '/api/imports/drafts/{id}/stop' },
  importDetail: { method: 'get', path: '/api/imports/{id}' },
  importRefused: { method: 'get', path: '/api/imports/{id}/open.csv' },
  fixRow: { method: 'post', path: '/api/imports/{id}/rows/{line}' },
  withdrawImport: { method: 'post', path: '/api/imports/{id}/withdrawals' },
} as const;
