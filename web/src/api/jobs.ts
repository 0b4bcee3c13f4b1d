import type {
  JobClosing,
  JobFilter,
  JobMove,
  NewComplaint,
  NewJob,
  PolicyChange,
  ScopeChange,
  Settlement,
} from '@mile-mark/contract/jobs';
import { useQuery } from '@tanstack/react-query';
import { useAnswer, useItems, useSubmit } from './queries.ts';
import { request } from './request.ts';

export const useJobs = (filter: JobFilter) => useItems('jobs', undefined, { staleTime: 10_000 }, filter);
export const useJob = (id: string | undefined) => useAnswer('job', { id: id ?? '' }, { enabled: id !== undefined });
export const useProposal = (unit: string) => useAnswer('jobProposal', { unit });
export const useThisWeek = (depot: string) =>
  useQuery({ queryKey: ['thisWeek', depot], queryFn: () => request('thisWeek', { query: depot ? { depot } : {} }) });
export const useDefects = () => useItems('defects', undefined, { refetchInterval: 30_000 });
export const useJobLessons = () => useAnswer('jobLessons', undefined);
export const useShopPolicy = () => useAnswer('shopPolicy', undefined);

export const useAddJob = () => useSubmit('addJob', (body: NewJob) => ({ body }));
export const useMoveJob = (id: string) => useSubmit('moveJob', (body: JobMove) => ({ params: { id }, body }));
export const useChangeScope = (id: string) =>
  useSubmit('changeScope', (body: ScopeChange) => ({ params: { id }, body }));
export const useCloseJob = (id: string) => useSubmit('closeJob', (body: JobClosing) => ({ params: { id }, body }));
export const useAddComplaint = () => useSubmit('addComplaint', (body: NewComplaint) => ({ body }));
export const useSettleDefect = () =>
  useSubmit('settleDefect', ({ defectId, ...body }: Settlement & { defectId: string }) => ({
    params: { id: defectId },
    body,
  }));
export const useChangePolicy = () => useSubmit('changePolicy', (body: PolicyChange) => ({ body }));
