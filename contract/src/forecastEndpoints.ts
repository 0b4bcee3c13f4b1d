import { COORDINATOR, Done, EVERY, IdParam, listOf, None, UnitParam, type Endpoint } from './endpoint.ts';
import { ChangeAnswer, FeedView, ForecastInput, WearChange, WhyMark } from './changes.ts';
import { MileMarks, VehicleDetail, WithoutPooling } from './fleet.ts';
import { Validation } from './validation.ts';

/** Routes of marks, why they stand where they do, and changes of wear. */
export const FORECAST_ENDPOINTS = {
  vehicle: {
    method: 'get',
    path: '/api/vehicles/{unit}',
    who: EVERY,
    summary: 'One vehicle with pads, marks, readings, duty and services',
    params: UnitParam,
    response: VehicleDetail,
    status: 200,
  },
  mileMarks: {
    method: 'get',
    path: '/api/mile-marks',
    who: EVERY,
    summary: 'The mile mark of every axle',
    response: MileMarks,
    status: 200,
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
  validation: {
    method: 'get',
    path: '/api/validation',
    who: EVERY,
    summary: 'How past forecasts of this fleet came out',
    response: Validation,
    status: 200,
  },
  feed: {
    method: 'get',
    path: '/api/feed',
    who: EVERY,
    summary: 'How the telematics feed stands, and what of it was not believed',
    response: FeedView,
    status: 200,
  },
  pollFeed: {
    method: 'post',
    path: '/api/feed/polls',
    who: COORDINATOR,
    summary: 'Ask for the feed to be read now; a job does it',
    response: None,
    status: 204,
  },
  changes: {
    method: 'get',
    path: '/api/changes',
    who: EVERY,
    summary: 'Changes of wear that readings showed, open ones first',
    response: listOf(WearChange),
    status: 200,
  },
  answerChange: {
    method: 'post',
    path: '/api/changes/{id}/answers',
    who: COORDINATOR,
    summary: 'Put on record what was decided about a change of wear',
    params: IdParam,
    body: ChangeAnswer,
    response: Done,
    status: 201,
  },
  whyMark: {
    method: 'get',
    path: '/api/vehicles/{unit}/why',
    who: EVERY,
    summary: 'What moved its marks since about a month ago',
    params: UnitParam,
    response: WhyMark,
    status: 200,
  },
  forecastInput: {
    method: 'get',
    path: '/api/vehicles/{unit}/forecast-input',
    who: EVERY,
    summary: 'All that its forecast rests on, for the same computation elsewhere',
    params: UnitParam,
    response: ForecastInput,
    status: 200,
  },
} as const satisfies Record<string, Endpoint>;
