import { z } from 'zod';
import { Id } from './common.ts';
import { COORDINATOR, Done, EVERY, IdParam, listOf, MEASURING, type Endpoint } from './endpoint.ts';
import { Bay } from './bay.ts';
import { Correction, InspectionSaved, NewInspection, NewPhoto, Question, QuestionAnswer } from './readings.ts';

/** Routes of readings, their questions and photos. */
export const READING_ENDPOINTS = {
  bay: {
    method: 'get',
    path: '/api/bay',
    who: MEASURING,
    summary: 'All that capture in the bay needs, to keep on the device',
    response: Bay,
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
  readingsCsv: {
    method: 'get',
    path: '/api/readings.csv',
    who: EVERY,
    summary: 'All readings as CSV',
    response: z.string(),
    status: 200,
    contentType: 'text/csv',
  },
} as const satisfies Record<string, Endpoint>;
