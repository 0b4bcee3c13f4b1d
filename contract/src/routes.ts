import { ARCHIVE_ROUTES } from './archive/routes.ts';
import { FORECASTS_ROUTES } from './forecasts/routes.ts';
import { GAUGES_ROUTES } from './gauges/routes.ts';
import { IMPORTS_ROUTES } from './imports/routes.ts';
import { INSPECTIONS_ROUTES } from './inspections/routes.ts';
import { JOBS_ROUTES } from './jobs/routes.ts';
import { PARTS_ROUTES } from './parts/routes.ts';
import { PEOPLE_ROUTES } from './people/routes.ts';
import { PLAN_ROUTES } from './plan/routes.ts';
import { REGISTER_ROUTES } from './register/routes.ts';
import { SPECIFICATIONS_ROUTES } from './specifications/routes.ts';
import { TELEMATICS_ROUTES } from './telematics/routes.ts';

/** Method and path of every route of the API, without the forms of what goes in and comes back: all a client must load. */
export const ROUTES = {
  ...PEOPLE_ROUTES,
  ...REGISTER_ROUTES,
  ...GAUGES_ROUTES,
  ...INSPECTIONS_ROUTES,
  ...TELEMATICS_ROUTES,
  ...FORECASTS_ROUTES,
  ...IMPORTS_ROUTES,
  ...SPECIFICATIONS_ROUTES,
  ...JOBS_ROUTES,
  ...PARTS_ROUTES,
  ...PLAN_ROUTES,
  ...ARCHIVE_ROUTES,
} as const;
