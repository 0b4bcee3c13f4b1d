import { z } from 'zod';
import { Done, IdParam, None, listOf, type Endpoint } from '../endpoint.ts';
import {
  Credentials,
  FirstAccount,
  NewPerson,
  PasswordChange,
  Person,
  PersonChange,
  Preferences,
  SessionState,
} from './schemas.ts';
import { PEOPLE_ROUTES } from './routes.ts';

/** Routes of the server itself, who is signed in, and people. */
export const PEOPLE_ENDPOINTS = {
  health: {
    ...PEOPLE_ROUTES.health,
    action: 'anyone',
    summary: 'Whether server and database answer',
    response: z.object({ status: z.string(), database: z.string() }),
    status: 200,
  },
  openapi: {
    ...PEOPLE_ROUTES.openapi,
    action: 'anyone',
    summary: 'This description',
    response: z.record(z.string(), z.unknown()),
    status: 200,
  },
  sessionState: {
    ...PEOPLE_ROUTES.sessionState,
    action: 'anyone',
    summary: 'Who is signed in, and today',
    response: SessionState,
    status: 200,
  },
  signIn: {
    ...PEOPLE_ROUTES.signIn,
    action: 'anyone',
    summary: 'Sign in',
    body: Credentials,
    response: SessionState,
    status: 200,
  },
  signOut: { ...PEOPLE_ROUTES.signOut, action: 'read', summary: 'Sign out', response: None, status: 204 },
  firstAccount: {
    ...PEOPLE_ROUTES.firstAccount,
    action: 'anyone',
    summary: 'Make the first account, a coordinator; refused once anyone has one',
    body: FirstAccount,
    response: SessionState,
    status: 201,
  },
  setPreferences: {
    ...PEOPLE_ROUTES.setPreferences,
    action: 'read',
    summary: 'Units in which the person reads and types, single-letter keys, the first walk',
    body: Preferences,
    response: SessionState,
    status: 200,
  },
  changePassword: {
    ...PEOPLE_ROUTES.changePassword,
    action: 'read',
    summary: 'Change one’s own password; every other session of one’s own ends',
    body: PasswordChange,
    response: None,
    status: 204,
  },
  people: {
    ...PEOPLE_ROUTES.people,
    action: 'read',
    summary: 'People',
    response: listOf(Person),
    status: 200,
  },
  addPerson: {
    ...PEOPLE_ROUTES.addPerson,
    action: 'administer',
    summary: 'Put a person on record, with or without an account',
    body: NewPerson,
    response: Done,
    status: 201,
  },
  changePerson: {
    ...PEOPLE_ROUTES.changePerson,
    action: 'administer',
    summary:
      'Correct a person’s name, role or address, or give a new password; another role or password ends their sessions',
    params: IdParam,
    body: PersonChange,
    response: Person,
    status: 200,
  },
  endAccess: {
    ...PEOPLE_ROUTES.endAccess,
    action: 'administer',
    summary: 'End somebody’s access at once, on every device; what they wrote stays theirs',
    params: IdParam,
    response: Person,
    status: 200,
  },
} as const satisfies Record<string, Endpoint>;
