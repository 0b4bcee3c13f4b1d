import { Done, IdParam, UnitParam, listOf, type Endpoint } from '../endpoint.ts';
import { ChangeAnswer, WearChange } from './changes.ts';
import { MileMarks } from './marks.ts';
import { Validation } from './validation.ts';
import { VehicleDetail, WithoutPooling } from './vehicle.ts';
import { DutyAsked, DutyPreview, ForecastInput, WhyMark } from './why.ts';
import { FORECASTS_ROUTES } from './routes.ts';

/** Routes of marks, why they stand where they do, and changes of wear. */
export const FORECASTS_ENDPOINTS = {
  vehicle: {
    ...FORECASTS_ROUTES.vehicle,
    action: 'read',
    summary: 'One vehicle with pads, marks, readings, duty and services',
    params: UnitParam,
    response: VehicleDetail,
    status: 200,
  },
  mileMarks: {
    ...FORECASTS_ROUTES.mileMarks,
    action: 'read',
    summary: 'The mile mark of every axle',
    response: MileMarks,
    status: 200,
  },
  withoutPooling: {
    ...FORECASTS_ROUTES.withoutPooling,
    action: 'read',
    summary: 'Its marks if each axle’s last look were taken at face value, for comparison',
    params: UnitParam,
    response: WithoutPooling,
    status: 200,
  },
  validation: {
    ...FORECASTS_ROUTES.validation,
    action: 'read',
    summary: 'How past forecasts of this fleet came out',
    response: Validation,
    status: 200,
  },
  changes: {
    ...FORECASTS_ROUTES.changes,
    action: 'read',
    summary: 'Changes of wear that readings showed, open ones first',
    response: listOf(WearChange),
    status: 200,
  },
  answerChange: {
    ...FORECASTS_ROUTES.answerChange,
    action: 'decide',
    summary: 'Put on record what was decided about a change of wear',
    params: IdParam,
    body: ChangeAnswer,
    response: Done,
    status: 201,
  },
  whyMark: {
    ...FORECASTS_ROUTES.whyMark,
    action: 'read',
    summary: 'What moved its marks since about a month ago',
    params: UnitParam,
    response: WhyMark,
    status: 200,
  },
  dutyPreview: {
    ...FORECASTS_ROUTES.dutyPreview,
    action: 'read',
    summary: 'Where its marks would stand under another duty; nothing is saved',
    params: UnitParam,
    query: DutyAsked,
    response: DutyPreview,
    status: 200,
  },
  forecastInput: {
    ...FORECASTS_ROUTES.forecastInput,
    action: 'read',
    summary: 'All that its forecast rests on, for the same computation elsewhere',
    params: UnitParam,
    response: ForecastInput,
    status: 200,
  },
} as const satisfies Record<string, Endpoint>;
