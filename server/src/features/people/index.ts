export { PersonEntity, type PersonRow } from './entities.ts';
export { MEASURERS, readerOf } from './queries.ts';
export { mountPeople } from './routes.ts';
export { actorOf, SESSION_COOKIE } from './sessions.ts';
export { DEVICE_COOKIE, isKnownDevice } from './signInPace.ts';
export { makeFirstAccount } from './commands.ts';
