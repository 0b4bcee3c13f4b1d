/** Method and path of the routes of files taken in. */
export const IMPORTS_ROUTES = {
  imports: { method: 'get', path: '/api/imports' },
  startImport: { method: 'post', path: '/api/imports' },
  importDetail: { method: 'get', path: '/api/imports/{id}' },
  importRefused: { method: 'get', path: '/api/imports/{id}/open.csv' },
  fixRow: { method: 'post', path: '/api/imports/{id}/rows/{line}' },
  withdrawImport: { method: 'post', path: '/api/imports/{id}/withdrawals' },
} as const;
