import {
  QueryClient,
  type InvalidateOptions,
  type InvalidateQueryFilters,
  type QueryFilters,
} from '@tanstack/react-query';

/**
 * A client whose `invalidateQueries` also reaches what is being fetched for the first time. By itself such a fetch
 * goes on and its answer, which may be from before the write, would be taken as new: somebody who opens a job and
 * begins its work at once would stand before a card that takes nothing. Here it is fetched once more when it has come.
 */
export class HearingClient extends QueryClient {
  override async invalidateQueries<Key extends readonly unknown[]>(
    filters?: InvalidateQueryFilters<Key>,
    options?: InvalidateOptions,
  ): Promise<void> {
    const first = this.getQueryCache()
      .findAll(filters as QueryFilters)
      .filter(({ state }) => state.fetchStatus === 'fetching' && state.data === undefined);
    await Promise.all([
      super.invalidateQueries(filters, options),
      ...first.map(async ({ queryKey, promise }) => {
        // One that fails told nothing old.
        const came = await promise?.then(
          () => true,
          () => false,
        );
        if (came) await super.invalidateQueries({ queryKey, exact: true }, options);
      }),
    ]);
  }
}
