import { COORDINATOR, Done, IdParam, listOf, MEASURING, type Endpoint } from './endpoint.ts';
import { Hands, NewStudy, NewStudyValue, StudyDetail, StudyImport, StudySummary } from './hands.ts';

/** Routes of gauges and the people who use them. */
export const HANDS_ENDPOINTS = {
  hands: {
    method: 'get',
    path: '/api/hands',
    who: MEASURING,
    summary: 'Bias and repeatability of technicians and gauges; a technician sees their own',
    response: Hands,
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
} as const satisfies Record<string, Endpoint>;
