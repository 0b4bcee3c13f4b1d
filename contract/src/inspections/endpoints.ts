import { z } from 'zod';
import { DistanceUnit, Id } from '../common.ts';
import { Done, IdParam, listOf, type Endpoint } from '../endpoint.ts';
import { Bay } from './bay.ts';
import { NewPhoto } from './photos.ts';
import { Question, QuestionAnswer } from './questions.ts';
import { Correction, InspectionSaved, NewInspection } from './schemas.ts';
import { NewService } from './services.ts';

/** Routes of readings, their questions and photos. */
export const INSPECTIONS_ENDPOINTS = {
  addService: {
    method: 'post',
    path: '/api/services',
    action: 'measure',
    summary: 'Record pads or rotors fitted',
    body: NewService,
    response: Done,
    status: 201,
  },
  bay: {
    method: 'get',
    path: '/api/bay',
    action: 'measure',
    summary: 'All that capture in the bay needs, to keep on the device',
    response: Bay,
    status: 200,
  },
  addReadings: {
    method: 'post',
    path: '/api/readings',
    action: 'measure',
    summary: 'Enter one inspection; a repeat with the same ids answers as the first did',
    body: NewInspection,
    response: InspectionSaved,
    status: 201,
  },
  correctReading: {
    method: 'post',
    path: '/api/readings/{id}/corrections',
    action: 'measure',
    summary: 'Supersede a reading, or withdraw it',
    params: IdParam,
    body: Correction,
    response: Done,
    status: 201,
  },
  correctOdometer: {
    method: 'post',
    path: '/api/inspections/{id}/odometer',
    action: 'decide',
    summary: 'Enter an inspection anew at another odometer; the old one stays on record, superseded',
    params: IdParam,
    body: z.object({
      id: Id,
      odometer: z.string().min(1, 'An odometer such as 41,200 mi is needed.').max(30),
      /** Unit of a bare figure; a unit typed with it counts. */
      odometerUnit: DistanceUnit.optional(),
      reason: Correction.shape.reason,
    }),
    response: Done,
    status: 201,
  },
  questions: {
    method: 'get',
    path: '/api/questions',
    action: 'measure',
    summary: 'Readings and odometers that wait for the coordinator; a technician sees their own',
    response: listOf(Question),
    status: 200,
  },
  answerQuestion: {
    method: 'post',
    path: '/api/questions/{id}/answers',
    action: 'decide',
    summary: 'Settle a question; the answer is kept with who and when',
    params: IdParam,
    body: QuestionAnswer,
    response: Done,
    status: 201,
  },
  addPhoto: {
    method: 'post',
    path: '/api/photos',
    action: 'measure',
    summary: 'Keep a photo of an inspection; a repeat with the same id adds nothing',
    body: NewPhoto,
    response: Done,
    status: 201,
  },
  photo: {
    method: 'get',
    path: '/api/photos/{id}',
    action: 'read',
    summary: 'One photo',
    params: IdParam,
    response: z.unknown(),
    status: 200,
    contentType: 'image/jpeg',
  },
  readingsCsv: {
    method: 'get',
    path: '/api/readings.csv',
    action: 'read',
    summary: 'All readings as CSV',
    response: z.string(),
    status: 200,
    contentType: 'text/csv',
  },
} as const satisfies Record<string, Endpoint>;
