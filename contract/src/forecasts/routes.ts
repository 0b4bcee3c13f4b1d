/** Method and path of the routes of marks, why they stand where they do, and changes of wear. */
export const FORECASTS_ROUTES = {
  vehicle: { method: 'get', path: '/api/vehicles/{unit}' },
  mileMarks: { method: 'get', path: '/api/mile-marks' },
  withoutPooling: { method: 'get', path: '/api/vehicles/{unit}/without-pooling' },
  validation: { method: 'get', path: '/api/backtest' },
  changes: { method: 'get', path: '/api/changes' },
  answerChange: { method: 'post', path: '/api/changes/{id}/answers' },
  whyMark: { method: 'get', path: '/api/vehicles/{unit}/why' },
  dutyPreview: { method: 'get', path: '/api/vehicles/{unit}/duty-preview' },
  forecastInput: { method: 'get', path: '/api/vehicles/{unit}/forecast-input' },
} as const;
