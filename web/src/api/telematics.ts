import { useAnswer, useSubmit } from './queries.ts';

export const useFeed = () => useAnswer('feed', undefined, { refetchInterval: 10_000 });
export const usePollFeed = () => useSubmit('pollFeed', (_: void) => ({}));
