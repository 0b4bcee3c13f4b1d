import { z } from 'zod';
import { Done, None, listOf, type Endpoint } from '../endpoint.ts';
import { Credentials, FirstAccount, NewPerson, Person, Preferences, SessionState } from './schemas.ts';

/** Routes of the server itself, who is signed in, and people. */
export const PEOPLE_ENDPOINTS = {
  health: {
    method: 'get',
    path: '/api/health',
    action: 'anyone',
    summary: 'Whether server and database answer',
    response: z.object({ status: z.string(), database: z.string() }),
    status: 200,
  },
  openapi: {
    method: 'get',
    path: '/api/openapi.json',
    action: 'anyone',
    summary: 'This description',
    response: z.record(z.string(), z.unknown()),
    status: 200,
  },
  sessionState: {
    method: 'get',
    path: '/api/session',
    action: 'anyone',
    summary: 'Who is signed in, and today',
    response: SessionState,
    status: 200,
  },
  signIn: {
    method: 'post',
    path: '/api/session',
    action: 'anyone',
    summary: 'Sign in',
    body: Credentials,
    response: SessionState,
    status: 200,
  },
  signOut: { method: 'delete', path: '/api/session', action: 'read', summary: 'Sign out', response: None, status: 204 },
  firstAccount: {
    method: 'post',
    path: '/api/first-account',
    action: 'anyone',
    summary: 'Make the first account, a coordinator; refused once anyone has one',
    body: FirstAccount,
    response: SessionState,
    status: 201,
  },
  setPreferences: {
    method: 'put',
    path: '/api/me/preferences',
    action: 'read',
    summary: 'Units in which the person reads and types',
    body: Preferences,
    response: SessionState,
    status: 200,
  },
  people: {
    method: 'get',
    path: '/api/people',
    action: 'read',
    summary: 'People',
    response: listOf(Person),
    status: 200,
  },
  addPerson: {
    method: 'post',
    path: '/api/people',
    action: 'administer',
    summary: 'Put a person on record, with or without an account',
    body: NewPerson,
    response: Done,
    status: 201,
  },
} as const satisfies Record<string, Endpoint>;
