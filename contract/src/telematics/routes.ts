/** Method and path of the routes of the telematics feed. */
export const TELEMATICS_ROUTES = {
  feed: { method: 'get', path: '/api/feed' },
  pollFeed: { method: 'post', path: '/api/feed/polls' },
} as const;
