import { Done, IdParam, UnitParam, listOf, type Endpoint } from '../endpoint.ts';
import { Depot, DutyInUse, Limit, Model, ModelBuild, NewDuty, NewDutyPeriod, NewLimit, NewVehicle } from './schemas.ts';
import { SettingsChange, SettingsView } from './settings.ts';
import { VehicleRows } from './vehicles.ts';
import { REGISTER_ROUTES } from './routes.ts';

/** Routes of what is on record once: depots, gauges, models, duties, limits, vehicles, settings. */
export const REGISTER_ENDPOINTS = {
  depots: {
    ...REGISTER_ROUTES.depots,
    action: 'read',
    summary: 'Depots',
    response: listOf(Depot),
    status: 200,
  },
  models: {
    ...REGISTER_ROUTES.models,
    action: 'read',
    summary: 'Models with their axles',
    response: listOf(Model),
    status: 200,
  },
  changeModelBuild: {
    ...REGISTER_ROUTES.changeModelBuild,
    action: 'register',
    summary: 'Say how the brakes of a model are built, what its reservoir holds and where it is lifted',
    params: IdParam,
    body: ModelBuild,
    response: Model,
    status: 200,
  },
  duties: {
    ...REGISTER_ROUTES.duties,
    action: 'read',
    summary: 'Duties, with how many vehicles drive each',
    response: listOf(DutyInUse),
    status: 200,
  },
  addDuty: {
    ...REGISTER_ROUTES.addDuty,
    action: 'register',
    summary: 'Put a duty on record; a repeat with the same id adds nothing',
    body: NewDuty,
    response: Done,
    status: 201,
  },
  settings: {
    ...REGISTER_ROUTES.settings,
    action: 'read',
    summary: 'What forecasts assume',
    response: SettingsView,
    status: 200,
  },
  changeSettings: {
    ...REGISTER_ROUTES.changeSettings,
    action: 'register',
    summary: 'Change what forecasts assume; all are brought up to date',
    body: SettingsChange,
    response: SettingsView,
    status: 200,
  },
  limits: {
    ...REGISTER_ROUTES.limits,
    action: 'read',
    summary: 'Limits of law and policy',
    response: listOf(Limit),
    status: 200,
  },
  addLimit: {
    ...REGISTER_ROUTES.addLimit,
    action: 'register',
    summary: 'Enter a limit of law or policy',
    body: NewLimit,
    response: Done,
    status: 201,
  },
  vehicles: {
    ...REGISTER_ROUTES.vehicles,
    action: 'read',
    summary: 'Vehicles',
    response: VehicleRows,
    status: 200,
  },
  addVehicle: {
    ...REGISTER_ROUTES.addVehicle,
    action: 'register',
    summary: 'Enter a vehicle with its first duty',
    body: NewVehicle,
    response: Done,
    status: 201,
  },
  changeDuty: {
    ...REGISTER_ROUTES.changeDuty,
    action: 'register',
    summary: 'Begin another duty; the past keeps its own',
    params: UnitParam,
    body: NewDutyPeriod,
    response: Done,
    status: 201,
  },
  undoDuty: {
    ...REGISTER_ROUTES.undoDuty,
    action: 'register',
    summary: 'Take back the duty that a vehicle began last; the one before goes on',
    params: IdParam,
    response: Done,
    status: 200,
  },
} as const satisfies Record<string, Endpoint>;
