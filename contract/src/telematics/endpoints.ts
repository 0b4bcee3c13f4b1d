import { None, type Endpoint } from '../endpoint.ts';
import { FeedView } from './schemas.ts';

/** Routes of the telematics feed. */
export const TELEMATICS_ENDPOINTS = {
  feed: {
    method: 'get',
    path: '/api/feed',
    action: 'read',
    summary: 'How the telematics feed stands, and what of it was not believed',
    response: FeedView,
    status: 200,
  },
  pollFeed: {
    method: 'post',
    path: '/api/feed/polls',
    action: 'register',
    summary: 'Ask for the feed to be read now; a job does it',
    response: None,
    status: 204,
  },
} as const satisfies Record<string, Endpoint>;
