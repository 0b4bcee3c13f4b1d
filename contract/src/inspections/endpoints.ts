import { z } from 'zod';
import { DistanceUnit, Id } from '../common.ts';
import { Done, IdParam, listOf, UnitParam, type Endpoint } from '../endpoint.ts';
import { Bay } from './bay.ts';
import { NewPhoto } from './photos.ts';
import { Question, QuestionAnswer, SettledQuestion } from './questions.ts';
import {
  Correction,
  FindingWithdrawal,
  ServiceWithdrawal,
  InspectionSaved,
  InspectionWithdrawal,
  NewInspection,
  OwnInspection,
} from './schemas.ts';
import { NewService } from './services.ts';
import { INSPECTIONS_ROUTES } from './routes.ts';

/** Routes of readings, their questions and photos. */
export const INSPECTIONS_ENDPOINTS = {
  addService: {
    ...INSPECTIONS_ROUTES.addService,
    action: 'measure',
    summary: 'Record pads or rotors fitted',
    body: NewService,
    response: Done,
    status: 201,
  },
  bay: {
    ...INSPECTIONS_ROUTES.bay,
    action: 'measure',
    summary: 'All that capture in the bay needs, to keep on the device',
    response: Bay,
    status: 200,
  },
  addReadings: {
    ...INSPECTIONS_ROUTES.addReadings,
    action: 'measure',
    summary: 'Enter one inspection; a repeat with the same ids answers as the first did',
    body: NewInspection,
    response: InspectionSaved,
    status: 201,
  },
  correctReading: {
    ...INSPECTIONS_ROUTES.correctReading,
    action: 'measure',
    summary: 'Supersede a reading, or withdraw it',
    params: IdParam,
    body: Correction,
    response: Done,
    status: 201,
  },
  ownInspections: {
    ...INSPECTIONS_ROUTES.ownInspections,
    action: 'measure',
    summary: 'What one entered oneself within a day, to be moved or withdrawn',
    response: listOf(OwnInspection),
    status: 200,
  },
  vehicleSheets: {
    ...INSPECTIONS_ROUTES.vehicleSheets,
    action: 'correctOthers',
    summary: 'The last forty inspections of a vehicle, whoever entered them, to be moved or withdrawn',
    params: UnitParam,
    response: listOf(OwnInspection),
    status: 200,
  },
  withdrawService: {
    ...INSPECTIONS_ROUTES.withdrawService,
    action: 'measure',
    summary: 'Withdraw what was recorded as fitted, with a reason; one’s own within a day',
    params: IdParam,
    body: ServiceWithdrawal,
    response: Done,
    status: 201,
  },
  withdrawInspection: {
    ...INSPECTIONS_ROUTES.withdrawInspection,
    action: 'measure',
    summary: 'Withdraw an inspection whole, or move it to the vehicle that was meant; one’s own within a day',
    params: IdParam,
    body: InspectionWithdrawal,
    response: Done,
    status: 201,
  },
  withdrawFinding: {
    ...INSPECTIONS_ROUTES.withdrawFinding,
    action: 'measure',
    summary: 'Withdraw a finding with a reason; one’s own within a day',
    params: IdParam,
    body: FindingWithdrawal,
    response: Done,
    status: 201,
  },
  correctOdometer: {
    ...INSPECTIONS_ROUTES.correctOdometer,
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
    ...INSPECTIONS_ROUTES.questions,
    action: 'measure',
    summary: 'Readings and odometers that wait for the coordinator; a technician sees their own',
    response: listOf(Question),
    status: 200,
  },
  answerQuestion: {
    ...INSPECTIONS_ROUTES.answerQuestion,
    action: 'decide',
    summary: 'Settle a question; the answer is kept with who and when',
    params: IdParam,
    body: QuestionAnswer,
    response: Done,
    status: 201,
  },
  settledQuestions: {
    ...INSPECTIONS_ROUTES.settledQuestions,
    action: 'decide',
    summary: 'Questions settled in the last fortnight, newest first; each answer can be taken back',
    response: listOf(SettledQuestion),
    status: 200,
  },
  undoAnswer: {
    ...INSPECTIONS_ROUTES.undoAnswer,
    action: 'decide',
    summary: 'Take an answer back; its question is open again',
    params: IdParam,
    body: z.object({ id: Id }),
    response: Done,
    status: 201,
  },
  addPhoto: {
    ...INSPECTIONS_ROUTES.addPhoto,
    action: 'measure',
    summary: 'Keep a photo of an inspection; a repeat with the same id adds nothing',
    body: NewPhoto,
    room: 'photo',
    response: Done,
    status: 201,
  },
  photo: {
    ...INSPECTIONS_ROUTES.photo,
    action: 'read',
    summary: 'One photo',
    params: IdParam,
    response: z.unknown(),
    status: 200,
    contentType: 'image/jpeg',
  },
  readingsCsv: {
    ...INSPECTIONS_ROUTES.readingsCsv,
    action: 'read',
    summary: 'All readings as CSV',
    response: z.string(),
    status: 200,
    contentType: 'text/csv',
  },
} as const satisfies Record<string, Endpoint>;
