import { ARCHIVE_ENDPOINTS } from './archive/index.ts';
import type { Endpoint } from './endpoint.ts';
import { FORECASTS_ENDPOINTS } from './forecasts/index.ts';
import { GAUGES_ENDPOINTS } from './gauges/index.ts';
import { IMPORTS_ENDPOINTS } from './imports/index.ts';
import { INSPECTIONS_ENDPOINTS } from './inspections/index.ts';
import { JOBS_ENDPOINTS } from './jobs/index.ts';
import { PARTS_ENDPOINTS } from './parts/index.ts';
import { PLAN_ENDPOINTS } from './plan/index.ts';
import { PEOPLE_ENDPOINTS } from './people/index.ts';
import { REGISTER_ENDPOINTS } from './register/index.ts';
import { SPECIFICATIONS_ENDPOINTS } from './specifications/index.ts';
import { TELEMATICS_ENDPOINTS } from './telematics/index.ts';

/** Every route of the API: the server mounts from this list, the tests walk it, the web's client calls by it. */
export const ENDPOINTS = {
  ...PEOPLE_ENDPOINTS,
  ...REGISTER_ENDPOINTS,
  ...GAUGES_ENDPOINTS,
  ...INSPECTIONS_ENDPOINTS,
  ...TELEMATICS_ENDPOINTS,
  ...FORECASTS_ENDPOINTS,
  ...IMPORTS_ENDPOINTS,
  ...SPECIFICATIONS_ENDPOINTS,
  ...JOBS_ENDPOINTS,
  ...PARTS_ENDPOINTS,
  ...PLAN_ENDPOINTS,
  ...ARCHIVE_ENDPOINTS,
} as const satisfies Record<string, Endpoint>;

export type EndpointName = keyof typeof ENDPOINTS;
