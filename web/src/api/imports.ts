import { useEffect, useRef } from 'react';
import { useInfiniteQuery, useMutation, useQueryClient } from '@tanstack/react-query';
import type { DraftPreview, DraftRows, ImportDraft, RowsShown } from '@mile-mark/contract/imports';
import { ApiProblem, call } from './client.ts';
import { useAnswer, useItems, useSubmit } from './queries.ts';
import { type BodyOf, pathOf, request } from './request.ts';

export const useImports = () => useItems('imports', undefined);
export const useImportDetail = (id: string | undefined) =>
  useAnswer('importDetail', { id: id ?? '' }, { enabled: id !== undefined });

/** Files that were dropped and wait, whoever dropped them. */
export const useImportDrafts = () => useItems('importDrafts', undefined);

/** Keeps a file on the server, as it is, to be looked at. */
export function dropFile(file: File): Promise<ImportDraft> {
  const named = new URLSearchParams({ id: crypto.randomUUID(), fileName: file.name });
  const content = new Blob([file], { type: 'application/octet-stream' });
  return call<ImportDraft>('POST', `${pathOf('dropFile')}?${named.toString()}`, content);
}

/** A look at a file that waits; another one after each answer, and after whatever else changes the record. */
export const useImportDraft = (id: string, enabled: boolean) =>
  useAnswer(
    'importDraft',
    { id },
    {
      enabled,
      placeholderData: (before) => before,
      staleTime: 0,
      gcTime: 0,
      retry: false,
      // What is shown of a long file before its doubts are found follows them.
      refetchInterval: ({ state }) => (state.data?.judging ? 800 : false),
    },
  );

/** Rows of the look that is shown, a page at a time. */
export function useDraftRows({ id, look, revision, rows, counts }: DraftPreview & { id: string }, shown: RowsShown) {
  const queries = useQueryClient();
  const total = Object.values(counts).reduce((sum, count) => sum + count, 0);
  const first: DraftRows = { rows, next: rows.length < total ? rows.length : null };
  // A choice changes what becomes of rows, not which there are: the pages that were read are read again, in place.
  const seen = useRef({ look, revision });
  useEffect(() => {
    const before = seen.current;
    seen.current = { look, revision };
    if (before.look === look && before.revision !== revision)
      void queries.invalidateQueries({ queryKey: ['draftRows', id, look] });
  }, [queries, id, look, revision]);
  return useInfiniteQuery({
    queryKey: ['draftRows', id, look, shown],
    // Rows of a look that is no more: the file is looked at anew, and its rows follow.
    meta: { askedAnew: true },
    ...(shown === 'all' ? { initialData: { pages: [first], pageParams: [0] } } : {}),
    staleTime: Infinity,
    queryFn: async ({ pageParam: from }): Promise<DraftRows> => {
      try {
        return await request('draftRows', { params: { id }, query: { look, shown, from } });
      } catch (error) {
        if (error instanceof ApiProblem && error.status === 409)
          void queries.invalidateQueries({ queryKey: ['importDraft', { id }] });
        throw error;
      }
    },
    initialPageParam: 0,
    getNextPageParam: ({ next }) => next ?? undefined,
    placeholderData: (before) => before,
    gcTime: 0,
    retry: false,
  });
}

/** Says something of a file; answers go one after the other, each on top of the one before. */
export function useAnswerDraft(id: string) {
  const queries = useQueryClient();
  const queryKey = ['importDraft', { id }];
  // An answer rests on the one before it, also where what that one changed is not shown yet.
  const latest = useRef(0);
  return useMutation({
    scope: { id: `draft ${id}` },
    mutationFn: async (said: Omit<BodyOf<'answerDraft'>, 'revision'>) => {
      const shown = queries.getQueryData<DraftPreview>(queryKey)?.revision ?? 0;
      const seen = Math.max(shown, latest.current);
      const { revision } = await request('answerDraft', { params: { id }, body: { ...said, revision: seen } });
      latest.current = revision;
    },
    onSettled: () => void queries.invalidateQueries({ queryKey }),
  });
}

const OF_A_DRAFT = ['importDraft', 'draftRows', 'draftProgress'];

/** Takes a file in as it was seen; whatever else is shown may be old then. */
export function useTakeInDraft(draftId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: BodyOf<'takeInDraft'>) => request('takeInDraft', { params: { id: draftId }, body }),
    // The file itself waits no more: neither it nor its rows are asked for again.
    onMutate: () => queries.cancelQueries({ queryKey: ['importDraft', { id: draftId }] }),
    onSuccess: () =>
      void queries.invalidateQueries({ predicate: ({ queryKey: [name] }) => !OF_A_DRAFT.includes(String(name)) }),
    onError: (error) => {
      if (error instanceof ApiProblem && error.status === 409)
        void queries.invalidateQueries({ queryKey: ['importDraft', { id: draftId }] });
    },
  });
}

/** How far the taking in of a file is, while it goes on. */
export const useDraftProgress = (id: string) =>
  useAnswer('draftProgress', { id }, { refetchInterval: 400, gcTime: 0, retry: false });
export const useStopDraft = () => useSubmit('stopDraft');
export const usePutAwayDraft = () => useSubmit('putAwayDraft');

export function useMendRow(importId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ line, ...body }: { line: number } & BodyOf<'fixRow'>) =>
      request('fixRow', { params: { id: importId, line }, body }),
    onSuccess: ({ done }) => {
      if (done) void queries.invalidateQueries();
    },
  });
}

export const useWithdrawImport = () =>
  useSubmit('withdrawImport', ({ importId, ...body }: { importId: string } & BodyOf<'withdrawImport'>) => ({
    params: { id: importId },
    body,
  }));
