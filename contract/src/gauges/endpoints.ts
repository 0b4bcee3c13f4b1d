import { Done, IdParam, listOf, type Endpoint } from '../endpoint.ts';
import { Appraisers } from './appraisers.ts';
import { Gauge, NewGauge } from './schemas.ts';
import { NewStudy, NewStudyValue, StudyDetail, StudyImport, StudySummary } from './studies.ts';
import { GAUGES_ROUTES } from './routes.ts';

/** Routes of gauges and the people who use them. */
export const GAUGES_ENDPOINTS = {
  gauges: {
    ...GAUGES_ROUTES.gauges,
    action: 'read',
    summary: 'Gauges',
    response: listOf(Gauge),
    status: 200,
  },
  addGauge: {
    ...GAUGES_ROUTES.addGauge,
    action: 'measure',
    summary: 'Put a gauge on record',
    body: NewGauge,
    response: Done,
    status: 201,
  },
  appraisers: {
    ...GAUGES_ROUTES.appraisers,
    action: 'measure',
    summary: 'Bias and repeatability of technicians and gauges; a technician sees their own',
    response: Appraisers,
    status: 200,
  },
  studies: {
    ...GAUGES_ROUTES.studies,
    action: 'measure',
    summary: 'Gauge studies',
    response: listOf(StudySummary),
    status: 200,
  },
  addStudy: {
    ...GAUGES_ROUTES.addStudy,
    action: 'study',
    summary: 'Plan a gauge study; the order is random, by the seed',
    body: NewStudy,
    response: Done,
    status: 201,
  },
  importStudy: {
    ...GAUGES_ROUTES.importStudy,
    action: 'study',
    summary: 'Take in a gauge study from CSV',
    body: StudyImport,
    room: 'list',
    response: Done,
    status: 201,
  },
  study: {
    ...GAUGES_ROUTES.study,
    action: 'measure',
    summary: 'One gauge study with its plan, values and figures',
    params: IdParam,
    response: StudyDetail,
    status: 200,
  },
  addStudyValue: {
    ...GAUGES_ROUTES.addStudyValue,
    action: 'measure',
    summary: 'Enter one measurement of a study; a later one of the same run supersedes it',
    params: IdParam,
    body: NewStudyValue,
    response: Done,
    status: 201,
  },
} as const satisfies Record<string, Endpoint>;
