import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { ImportPreview, ImportRequest, ImportResult } from '@mile-mark/contract/imports';
import { useAnswer, useItems, useSubmit } from './queries.ts';
import { type BodyOf, request } from './request.ts';

export const useImports = () => useItems('imports', undefined);
export const useImportDetail = (id: string | undefined) =>
  useAnswer('importDetail', { id: id ?? '' }, { enabled: id !== undefined });

/** Looks at a file; nothing is taken in. */
export const preview = async (body: ImportRequest): Promise<ImportPreview> =>
  (await request('startImport', { body: { ...body, dryRun: true } })) as ImportPreview;

export function usePreview(body: ImportRequest | undefined) {
  return useQuery({
    queryKey: [
      'import-preview',
      body?.fileName,
      body?.understanding,
      body?.edits,
      body?.choices,
      body?.contentBase64?.length,
    ],
    queryFn: () => preview(body as ImportRequest),
    enabled: body !== undefined,
    placeholderData: (before) => before,
    staleTime: 0,
    gcTime: 0,
    retry: false,
  });
}

export function useCommitImport() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (body: ImportRequest) =>
      (await request('startImport', { body: { ...body, dryRun: false } })) as ImportResult,
    onSuccess: () => void queries.invalidateQueries(),
  });
}

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
