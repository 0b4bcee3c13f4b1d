export { TELEMATICS_ENDPOINTS } from './endpoints.ts';
export { FeedView } from './schemas.ts';
