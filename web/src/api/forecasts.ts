import type { ChangeAnswer } from '@mile-mark/contract/forecasts';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useAnswer, useItems, useSubmit } from './queries.ts';
import { request } from './request.ts';

/** While forecasts are being brought up to date, look again soon; else now and then, ms. */
const soonWhilePending = (pending: number | undefined) => (pending && pending > 0 ? 700 : 20_000);

/** The marks of all axles, as the home screen asks for them. */
export const marksQuery = {
  queryKey: ['mileMarks', undefined],
  queryFn: () => request('mileMarks', {}),
};

/** Fetches why a vehicle's marks moved before it is asked: when a pointer or the focus comes near. */
export function usePrefetchWhy(unit: string): { onPointerEnter: () => void; onFocus: () => void } {
  const queries = useQueryClient();
  const fetch = () => {
    void queries.prefetchQuery({
      queryKey: ['whyMark', { unit }],
      queryFn: () => request('whyMark', { params: { unit } }),
    });
    void queries.prefetchQuery({
      queryKey: ['forecastInput', { unit }],
      queryFn: () => request('forecastInput', { params: { unit } }),
    });
  };
  return { onPointerEnter: fetch, onFocus: fetch };
}

export const useMileMarks = () =>
  useAnswer('mileMarks', undefined, {
    refetchInterval: ({ state }) => soonWhilePending(state.data?.refresh.pending),
  });

export const useVehicle = (unit: string | undefined) =>
  useAnswer(
    'vehicle',
    { unit: unit ?? '' },
    {
      enabled: unit !== undefined && unit !== '',
      refetchInterval: ({ state }) => soonWhilePending(state.data?.refresh.pending),
      placeholderData: (before) => (before?.unit === unit ? before : undefined),
    },
  );

export const useChanges = () => useItems('changes', undefined);
export const useAnswerChange = () =>
  useSubmit('answerChange', ({ changeId, ...body }: { changeId: string } & ChangeAnswer) => ({
    params: { id: changeId },
    body,
  }));

/** Why its marks are where they are, against a month ago. */
export const useWhy = (unit: string) => useAnswer('whyMark', { unit });

/** Where its marks would stand under another duty; asked for once a duty and a day are chosen. */
export const useDutyPreview = (unit: string, query: { duty: string; from: string; milesPerDay?: number | undefined }) =>
  useQuery({
    queryKey: ['dutyPreview', unit, query],
    enabled: query.duty !== '' && query.from !== '',
    placeholderData: (before) => before,
    queryFn: () => request('dutyPreview', { params: { unit }, query }),
  });

/** All that a vehicle's forecast rests on, for trying in the browser what would be if. */
export const useForecastInput = (unit: string) => useAnswer('forecastInput', { unit });

/** The marks as each axle's last look alone would put them; asked for only where the comparison is opened. */
export const useWithoutPooling = (unit: string, open: boolean) =>
  useAnswer('withoutPooling', { unit }, { enabled: open });

/** How past forecasts came out. */
export const useValidation = () => useAnswer('validation', undefined);
