import { useMutation, useQuery, useQueryClient, type UseQueryOptions } from '@tanstack/react-query';
import type { EndpointName } from '@mile-mark/contract';
import { ApiProblem } from './client.ts';
import { request, type AnswerOf, type InputOf, type ParamsOf, type QueryOf } from './request.ts';

type Options<Answer> = Omit<UseQueryOptions<Answer>, 'queryKey' | 'queryFn'>;

/** What a route that reads answers, kept under its name and parameters. */
export const answerOf = <N extends EndpointName>(name: N, params: ParamsOf<N>) => ({
  queryKey: [name, params],
  queryFn: () => request(name, { params } as unknown as InputOf<N>),
});

/** The one way to load. */
export function useAnswer<N extends EndpointName>(name: N, params: ParamsOf<N>, options: Options<AnswerOf<N>> = {}) {
  return useQuery<AnswerOf<N>>({ ...options, ...answerOf(name, params) });
}

type ItemOf<N extends EndpointName> = AnswerOf<N> extends { items: (infer Item)[] } ? Item : never;

/** The same of a route that answers a list. */
export const itemsOf = <N extends EndpointName>(name: N, params: ParamsOf<N>, query?: QueryOf<N>) => ({
  queryKey: query === undefined ? [name, params] : [name, params, query],
  queryFn: async () => {
    const answer = await request(name, { params, query } as unknown as InputOf<N>);
    return (answer as { items: ItemOf<N>[] }).items;
  },
});

export function useItems<N extends EndpointName>(
  name: N,
  params: ParamsOf<N>,
  options: Options<ItemOf<N>[]> = {},
  query?: QueryOf<N>,
) {
  return useQuery<ItemOf<N>[]>({ ...options, ...itemsOf(name, params, query) });
}

/**
 * The one way to submit. Afterwards everything shown may be old; where `refreshed` names routes, the write is done
 * when those are there anew.
 *
 * @param inputOf what the route is called with, from what the form gives
 */
export function useSubmit<N extends EndpointName, Form = InputOf<N>>(
  name: N,
  inputOf: (form: Form) => InputOf<N> = (form) => form as unknown as InputOf<N>,
  refreshed?: readonly EndpointName[],
) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (form: Form) => request(name, inputOf(form)),
    onError: (error) => {
      // Somebody was quicker: what is shown is old.
      if (error instanceof ApiProblem && error.status === 409) void queries.invalidateQueries();
    },
    onSuccess: async () => {
      if (!refreshed) void queries.invalidateQueries();
      else await Promise.all(refreshed.map((route) => queries.invalidateQueries({ queryKey: [route] })));
    },
  });
}
