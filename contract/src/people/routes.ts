/** Method and path of the routes of the server itself: who is signed in, and people. */
export const PEOPLE_ROUTES = {
  health: { method: 'get', path: '/api/health' },
  openapi: { method: 'get', path: '/api/openapi.json' },
  sessionState: { method: 'get', path: '/api/session' },
  signIn: { method: 'post', path: '/api/session' },
  signOut: { method: 'delete', path: '/api/session' },
  firstAccount: { method: 'post', path: '/api/first-account' },
  setPreferences: { method: 'put', path: '/api/me/preferences' },
  changePassword: { method: 'put', path: '/api/me/password' },
  ownSessions: { method: 'get', path: '/api/me/sessions' },
  endSession: { method: 'delete', path: '/api/me/sessions/{id}' },
  makeResetLink: { method: 'post', path: '/api/people/{id}/reset-links' },
  resetPassword: { method: 'post', path: '/api/password-resets' },
  people: { method: 'get', path: '/api/people' },
  addPerson: { method: 'post', path: '/api/people' },
  changePerson: { method: 'put', path: '/api/people/{id}' },
  endAccess: { method: 'post', path: '/api/people/{id}/leaving' },
} as const;
