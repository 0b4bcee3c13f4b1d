import { z } from 'zod';
import { COORDINATOR, Done, EVERY, listOf, None, type Endpoint } from './endpoint.ts';
import { Credentials, FirstAccount, NewPerson, Person, Preferences, SessionState } from './session.ts';

/** Routes of the server itself, who is signed in, and people. */
export const SESSION_ENDPOINTS = {
  health: {
    method: 'get',
    path: '/api/health',
    who: 'anyone',
    summary: 'Whether server and database answer',
    response: z.object({ status: z.string(), database: z.string() }),
    status: 200,
  },
  openapi: {
    method: 'get',
    path: '/api/openapi.json',
    who: 'anyone',
    summary: 'This description',
    response: z.record(z.string(), z.unknown()),
    status: 200,
  },
  sessionState: {
    method: 'get',
    path: '/api/session',
    who: 'anyone',
    summary: 'Who is signed in, and today',
    response: SessionState,
    status: 200,
  },
  signIn: {
    method: 'post',
    path: '/api/session',
    who: 'anyone',
    summary: 'Sign in',
    body: Credentials,
    response: SessionState,
    status: 200,
  },
  signOut: { method: 'delete', path: '/api/session', who: EVERY, summary: 'Sign out', response: None, status: 204 },
  firstAccount: {
    method: 'post',
    path: '/api/first-account',
    who: 'anyone',
    summary: 'Make the first account, a coordinator; refused once anyone has one',
    body: FirstAccount,
    response: SessionState,
    status: 201,
  },
  setPreferences: {
    method: 'put',
    path: '/api/me/preferences',
    who: EVERY,
    summary: 'Units in which the person reads and types',
    body: Preferences,
    response: SessionState,
    status: 200,
  },
  people: { method: 'get', path: '/api/people', who: EVERY, summary: 'People', response: listOf(Person), status: 200 },
  addPerson: {
    method: 'post',
    path: '/api/people',
    who: COORDINATOR,
    summary: 'Put a person on record, with or without an account',
    body: NewPerson,
    response: Done,
    status: 201,
  },
} as const satisfies Record<string, Endpoint>;
