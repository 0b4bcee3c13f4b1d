import { useInfiniteQuery, useMutation, useQueryClient } from '@tanstack/react-query';
import type { ArchiveTaken, Trail, TrailQuery } from '@mile-mark/contract/archive';
import { call } from './client.ts';
import { pathOf, request } from './request.ts';

/** Where the archive is downloaded from. */
export const ARCHIVE_PATH = pathOf('archive');

/** Takes an archive in; everything shown, and who is signed in, may be another then. */
export function useTakeInArchive() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (file: Blob) =>
      call<ArchiveTaken>('POST', pathOf('takeInArchive'), new Blob([file], { type: 'application/zip' })),
    onSuccess: () => queries.invalidateQueries(),
  });
}

/** Who did what, a page at a time. */
export function useTrail(asked: Omit<TrailQuery, 'before'>) {
  return useInfiniteQuery({
    queryKey: ['trail', asked],
    queryFn: ({ pageParam }): Promise<Trail> =>
      request('trail', { query: { ...asked, ...(pageParam ? { before: pageParam } : {}) } }),
    initialPageParam: '',
    getNextPageParam: ({ items, more }) => (more ? items.at(-1)?.id : undefined),
  });
}
