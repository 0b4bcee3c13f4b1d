import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type {
  ImportDetail,
  ImportPreview,
  ImportRequest,
  ImportResult,
  ImportRow,
  ImportSummary,
} from '@mile-mark/contract';
import { call } from './client.ts';

export function useImports() {
  return useQuery({
    queryKey: ['imports'],
    queryFn: async () => (await call<{ items: ImportSummary[] }>('GET', '/api/imports')).items,
  });
}

export function useImportDetail(id: string | undefined) {
  return useQuery({
    queryKey: ['imports', id],
    queryFn: () => call<ImportDetail>('GET', `/api/imports/${id}`),
    enabled: id !== undefined,
  });
}

export function usePreview(request: ImportRequest | undefined) {
  return useQuery({
    queryKey: [
      'import-preview',
      request?.fileName,
      request?.understanding,
      request?.edits,
      request?.choices,
      request?.contentBase64?.length,
    ],
    queryFn: () => call<ImportPreview>('POST', '/api/imports', { ...request, dryRun: true }),
    enabled: request !== undefined,
    placeholderData: (before) => before,
    staleTime: 0,
    gcTime: 0,
    retry: false,
  });
}

export function useCommitImport() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (request: ImportRequest) => call<ImportResult>('POST', '/api/imports', { ...request, dryRun: false }),
    onSuccess: () => void queries.invalidateQueries(),
  });
}

export function useMendRow(importId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ line, ...body }: { line: number; action: 'take' | 'dismiss'; cells?: string[] }) =>
      call<{ row: ImportRow; done: boolean }>('POST', `/api/imports/${importId}/rows/${line}`, body),
    onSuccess: ({ done }) => {
      if (done) void queries.invalidateQueries();
    },
  });
}
