/** Method and path of the routes of readings, their questions and photos. */
export const INSPECTIONS_ROUTES = {
  addService: { method: 'post', path: '/api/services' },
  bay: { method: 'get', path: '/api/bay' },
  addReadings: { method: 'post', path: '/api/readings' },
  correctReading: { method: 'post', path: '/api/readings/{id}/corrections' },
  ownInspections: { method: 'get', path: '/api/inspections/own' },
  vehicleSheets: { method: 'get', path: '/api/vehicles/{unit}/sheets' },
  withdrawInspection: { method: 'post', path: '/api/inspections/{id}/withdrawals' },
  withdrawFinding: { method: 'post', path: '/api/findings/{id}/withdrawals' },
  correctOdometer: { method: 'post', path: '/api/inspections/{id}/odometer' },
  questions: { method: 'get', path: '/api/questions' },
  answerQuestion: { method: 'post', path: '/api/questions/{id}/answers' },
  settledQuestions: { method: 'get', path: '/api/questions/settled' },
  undoAnswer: { method: 'post', path: '/api/answers/{id}/undo' },
  addPhoto: { method: 'post', path: '/api/photos' },
  photo: { method: 'get', path: '/api/photos/{id}' },
  readingsCsv: { method: 'get', path: '/api/readings.csv' },
} as const;
