import type { QueryClient } from '@tanstack/react-query';
import { answerOf, itemsOf } from './queries.ts';

/** What each place asks for first. */
const FIRST = {
  '/this-week': [itemsOf('depots', undefined)],
  '/plan': [itemsOf('plans', undefined), itemsOf('depots', undefined)],
  '/questions': [
    itemsOf('questions', undefined),
    itemsOf('settledQuestions', undefined),
    itemsOf('changes', undefined),
    itemsOf('defects', undefined),
  ],
  '/specifications': [itemsOf('depots', undefined), itemsOf('openSpecifications', undefined)],
  '/duty': [itemsOf('duties', undefined), itemsOf('models', undefined)],
  '/import': [itemsOf('imports', undefined), itemsOf('importDrafts', undefined)],
  '/fleet': [itemsOf('fleet', undefined)],
  '/gauges': [answerOf('appraisers', undefined)],
  '/records': [answerOf('validation', undefined)],
};

/** Fetches what the place at a path asks for first; what is fresh is not fetched again. */
export function fetchAnswersOf(queries: QueryClient, pathname: string): void {
  const asked: readonly { queryKey: unknown[]; queryFn: () => Promise<unknown> }[] | undefined =
    FIRST[pathname as keyof typeof FIRST];
  for (const one of asked ?? []) void queries.prefetchQuery(one);
}
