import { z } from 'zod';
import { Id, type Role } from './common.ts';
import { Bay } from './bay.ts';
import { MileMarks, VehicleDetail, VehicleRows, WithoutPooling } from './fleet.ts';
import { Hands, NewStudy, NewStudyValue, StudyDetail, StudyImport, StudySummary } from './hands.ts';
import {
  ImportDetail,
  ImportPreview,
  ImportRequest,
  ImportResult,
  ImportSummaries,
  RowMended,
  RowResult,
} from './imports.ts';
import { Correction, InspectionSaved, NewInspection, NewPhoto, Question, QuestionAnswer } from './readings.ts';
import {
  Depot,
  Duty,
  Gauge,
  Limit,
  Model,
  NewDutyPeriod,
  NewGauge,
  NewLimit,
  NewService,
  NewVehicle,
} from './register.ts';
import { Validation } from './validation.ts';
import { Credentials, FirstAccount, NewPerson, Person, Preferences, SessionState } from './session.ts';

/** Who may call a route: anyone at all, or people of these roles. */
export type Who = 'anyone' | readonly Role[];

export interface Endpoint {
  method: 'get' | 'post' | 'put' | 'delete';
  /** Path with parameters in braces, e.g. `/api/vehicles/{unit}`. */
  path: string;
  who: Who;
  summary: string;
  params?: z.ZodType;
  query?: z.ZodType;
  body?: z.ZodType;
  response: z.ZodType;
  status: number;
  contentType?: string;
}

const EVERY: readonly Role[] = ['coordinator', 'technician', 'parts keeper', 'viewer'];
const MEASURING: readonly Role[] = ['coordinator', 'technician'];
const COORDINATOR: readonly Role[] = ['coordinator'];

const Done = z.object({ id: Id });
const listOf = <T extends z.ZodType>(item: T) => z.object({ items: z.array(item) });
const UnitParam = z.object({ unit: z.string().min(1).max(60) });
const IdParam = z.object({ id: Id });
const None = z.null();

/** Every route of the API: the server mounts from this list, the tests walk it, OpenAPI is made from it. */
export const ENDPOINTS = {
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
  depots: { method: 'get', path: '/api/depots', who: EVERY, summary: 'Depots', response: listOf(Depot), status: 200 },
  gauges: { method: 'get', path: '/api/gauges', who: EVERY, summary: 'Gauges', response: listOf(Gauge), status: 200 },
  addGauge: {
    method: 'post',
    path: '/api/gauges',
    who: MEASURING,
    summary: 'Put a gauge on record',
    body: NewGauge,
    response: Done,
    status: 201,
  },
  models: {
    method: 'get',
    path: '/api/models',
    who: EVERY,
    summary: 'Models with their axles',
    response: listOf(Model),
    status: 200,
  },
  duties: { method: 'get', path: '/api/duties', who: EVERY, summary: 'Duties', response: listOf(Duty), status: 200 },
  limits: {
    method: 'get',
    path: '/api/limits',
    who: EVERY,
    summary: 'Limits of law and policy',
    response: listOf(Limit),
    status: 200,
  },
  addLimit: {
    method: 'post',
    path: '/api/limits',
    who: COORDINATOR,
    summary: 'Enter a limit of law or policy',
    body: NewLimit,
    response: Done,
    status: 201,
  },
  vehicles: {
    method: 'get',
    path: '/api/vehicles',
    who: EVERY,
    summary: 'Vehicles',
    response: VehicleRows,
    status: 200,
  },
  addVehicle: {
    method: 'post',
    path: '/api/vehicles',
    who: COORDINATOR,
    summary: 'Enter a vehicle with its first duty',
    body: NewVehicle,
    response: Done,
    status: 201,
  },
  vehicle: {
    method: 'get',
    path: '/api/vehicles/{unit}',
    who: EVERY,
    summary: 'One vehicle with pads, marks, readings, duty and services',
    params: UnitParam,
    response: VehicleDetail,
    status: 200,
  },
  changeDuty: {
    method: 'post',
    path: '/api/vehicles/{unit}/duty-periods',
    who: COORDINATOR,
    summary: 'Begin another duty; the past keeps its own',
    params: UnitParam,
    body: NewDutyPeriod,
    response: Done,
    status: 201,
  },
  mileMarks: {
    method: 'get',
    path: '/api/mile-marks',
    who: EVERY,
    summary: 'The mile mark of every axle',
    response: MileMarks,
    status: 200,
  },
  addReadings: {
    method: 'post',
    path: '/api/readings',
    who: MEASURING,
    summary: 'Enter one inspection; a repeat with the same ids answers as the first did',
    body: NewInspection,
    response: InspectionSaved,
    status: 201,
  },
  correctReading: {
    method: 'post',
    path: '/api/readings/{id}/corrections',
    who: MEASURING,
    summary: 'Supersede a reading, or withdraw it',
    params: IdParam,
    body: Correction,
    response: Done,
    status: 201,
  },
  correctOdometer: {
    method: 'post',
    path: '/api/inspections/{id}/odometer',
    who: COORDINATOR,
    summary: 'Enter an inspection anew at another odometer; the old one stays on record, superseded',
    params: IdParam,
    body: z.object({
      id: Id,
      odometer: z.string().min(1, 'An odometer such as 41,200 mi is needed.').max(30),
      reason: Correction.shape.reason,
    }),
    response: Done,
    status: 201,
  },
  bay: {
    method: 'get',
    path: '/api/bay',
    who: MEASURING,
    summary: 'All that capture in the bay needs, to keep on the device',
    response: Bay,
    status: 200,
  },
  questions: {
    method: 'get',
    path: '/api/questions',
    who: MEASURING,
    summary: 'Readings and odometers that wait for the coordinator; a technician sees their own',
    response: listOf(Question),
    status: 200,
  },
  answerQuestion: {
    method: 'post',
    path: '/api/questions/{id}/answers',
    who: COORDINATOR,
    summary: 'Settle a question; the answer is kept with who and when',
    params: IdParam,
    body: QuestionAnswer,
    response: Done,
    status: 201,
  },
  addPhoto: {
    method: 'post',
    path: '/api/photos',
    who: MEASURING,
    summary: 'Keep a photo of an inspection; a repeat with the same id adds nothing',
    body: NewPhoto,
    response: Done,
    status: 201,
  },
  photo: {
    method: 'get',
    path: '/api/photos/{id}',
    who: EVERY,
    summary: 'One photo',
    params: IdParam,
    response: z.unknown(),
    status: 200,
    contentType: 'image/jpeg',
  },
  withoutPooling: {
    method: 'get',
    path: '/api/vehicles/{unit}/without-pooling',
    who: EVERY,
    summary: 'Its marks if each axle’s last look were taken at face value, for comparison',
    params: UnitParam,
    response: WithoutPooling,
    status: 200,
  },
  hands: {
    method: 'get',
    path: '/api/hands',
    who: MEASURING,
    summary: 'Bias and repeatability of technicians and gauges; a technician sees their own',
    response: Hands,
    status: 200,
  },
  validation: {
    method: 'get',
    path: '/api/validation',
    who: EVERY,
    summary: 'How past forecasts of this fleet came out',
    response: Validation,
    status: 200,
  },
  studies: {
    method: 'get',
    path: '/api/studies',
    who: MEASURING,
    summary: 'Gauge studies',
    response: listOf(StudySummary),
    status: 200,
  },
  addStudy: {
    method: 'post',
    path: '/api/studies',
    who: COORDINATOR,
    summary: 'Plan a gauge study; the order is random, by the seed',
    body: NewStudy,
    response: Done,
    status: 201,
  },
  importStudy: {
    method: 'post',
    path: '/api/studies/imports',
    who: COORDINATOR,
    summary: 'Take in a gauge study from CSV',
    body: StudyImport,
    response: Done,
    status: 201,
  },
  study: {
    method: 'get',
    path: '/api/studies/{id}',
    who: MEASURING,
    summary: 'One gauge study with its plan, values and figures',
    params: IdParam,
    response: StudyDetail,
    status: 200,
  },
  addStudyValue: {
    method: 'post',
    path: '/api/studies/{id}/values',
    who: MEASURING,
    summary: 'Enter one measurement of a study; a later one of the same run supersedes it',
    params: IdParam,
    body: NewStudyValue,
    response: Done,
    status: 201,
  },
  readingsCsv: {
    method: 'get',
    path: '/api/readings.csv',
    who: EVERY,
    summary: 'All readings as CSV',
    response: z.string(),
    status: 200,
    contentType: 'text/csv',
  },
  addService: {
    method: 'post',
    path: '/api/services',
    who: MEASURING,
    summary: 'Record pads or rotors fitted',
    body: NewService,
    response: Done,
    status: 201,
  },
  imports: {
    method: 'get',
    path: '/api/imports',
    who: MEASURING,
    summary: 'Imports so far',
    response: ImportSummaries,
    status: 200,
  },
  startImport: {
    method: 'post',
    path: '/api/imports',
    who: MEASURING,
    summary: 'Look at a CSV file (dryRun) or take it in',
    body: ImportRequest,
    response: z.union([ImportPreview, ImportResult]),
    status: 200,
  },
  importDetail: {
    method: 'get',
    path: '/api/imports/{id}',
    who: MEASURING,
    summary: 'One import with its rows still open',
    params: IdParam,
    response: ImportDetail,
    status: 200,
  },
  importRefused: {
    method: 'get',
    path: '/api/imports/{id}/open.csv',
    who: MEASURING,
    summary: 'Rows not taken, as CSV to mend and import again',
    params: IdParam,
    response: z.string(),
    status: 200,
    contentType: 'text/csv',
  },
  mendRow: {
    method: 'post',
    path: '/api/imports/{id}/rows/{line}',
    who: MEASURING,
    summary: 'Take a mended row, or dismiss it',
    params: z.object({ id: Id, line: z.coerce.number().int() }),
    body: RowMended,
    response: RowResult,
    status: 200,
  },
} as const satisfies Record<string, Endpoint>;

export type EndpointName = keyof typeof ENDPOINTS;
