import { None, type Endpoint } from '../endpoint.ts';
import { FeedView } from './schemas.ts';
import { TELEMATICS_ROUTES } from './routes.ts';

/** Routes of the telematics feed. */
export const TELEMATICS_ENDPOINTS = {
  feed: {
    ...TELEMATICS_ROUTES.feed,
    action: 'read',
    summary: 'How the telematics feed stands, and what of it was not believed',
    response: FeedView,
    status: 200,
  },
  pollFeed: {
    ...TELEMATICS_ROUTES.pollFeed,
    action: 'register',
    summary: 'Ask for the feed to be read now; a job does it',
    response: None,
    status: 204,
  },
} as const satisfies Record<string, Endpoint>;
