/** Method and path of the routes of what is on record once: depots, gauges, models, duties, limits, vehicles, settings. */
export const REGISTER_ROUTES = {
  depots: { method: 'get', path: '/api/depots' },
  models: { method: 'get', path: '/api/models' },
  changeModelBuild: { method: 'put', path: '/api/models/{id}/build' },
  duties: { method: 'get', path: '/api/duties' },
  addDuty: { method: 'post', path: '/api/duties' },
  settings: { method: 'get', path: '/api/settings' },
  changeSettings: { method: 'put', path: '/api/settings' },
  limits: { method: 'get', path: '/api/limits' },
  addLimit: { method: 'post', path: '/api/limits' },
  vehicles: { method: 'get', path: '/api/vehicles' },
  addVehicle: { method: 'post', path: '/api/vehicles' },
  changeDuty: { method: 'post', path: '/api/vehicles/{unit}/duty-periods' },
  undoDuty: { method: 'delete', path: '/api/duty-periods/{id}' },
} as const;
