import type { Endpoint } from './endpoint.ts';
import { FORECAST_ENDPOINTS } from './forecastEndpoints.ts';
import { HANDS_ENDPOINTS } from './handsEndpoints.ts';
import { IMPORT_ENDPOINTS } from './importEndpoints.ts';
import { READING_ENDPOINTS } from './readingEndpoints.ts';
import { REGISTER_ENDPOINTS } from './registerEndpoints.ts';
import { SESSION_ENDPOINTS } from './sessionEndpoints.ts';
import { SPECIFICATION_ENDPOINTS } from './specificationEndpoints.ts';

/** Every route of the API: the server mounts from this list, the tests walk it, OpenAPI is made from it. */
export const ENDPOINTS = {
  ...SESSION_ENDPOINTS,
  ...REGISTER_ENDPOINTS,
  ...FORECAST_ENDPOINTS,
  ...READING_ENDPOINTS,
  ...HANDS_ENDPOINTS,
  ...IMPORT_ENDPOINTS,
  ...SPECIFICATION_ENDPOINTS,
} as const satisfies Record<string, Endpoint>;

export type EndpointName = keyof typeof ENDPOINTS;
