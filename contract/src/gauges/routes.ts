/** Method and path of the routes of gauges and the people who use them. */
export const GAUGES_ROUTES = {
  gauges: { method: 'get', path: '/api/gauges' },
  addGauge: { method: 'post', path: '/api/gauges' },
  appraisers: { method: 'get', path: '/api/appraisers' },
  studies: { method: 'get', path: '/api/studies' },
  addStudy: { method: 'post', path: '/api/studies' },
  importStudy: { method: 'post', path: '/api/studies/imports' },
  study: { method: 'get', path: '/api/studies/{id}' },
  addStudyValue: { method: 'post', path: '/api/studies/{id}/values' },
} as const;
