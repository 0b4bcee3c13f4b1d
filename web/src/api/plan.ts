import type {
  CalendarFile,
  NewAbsence,
  NewCalendarLink,
  NewPlan,
  PlanLock,
  PlanMove,
  PlanSeen,
  PlanTermsChange,
  PlanTry,
  ShopChange,
} from '@mile-mark/contract/plan';
import { useQuery } from '@tanstack/react-query';
import { useAnswer, useItems, useSubmit } from './queries.ts';
import { pathOf, request } from './request.ts';

const SOLVING_MS = 700;
const LIVE = { refetchInterval: 30_000 };

export const useShop = () => useAnswer('shop', undefined, { staleTime: 30_000 });
export const usePlans = () =>
  useItems('plans', undefined, {
    refetchInterval: ({ state }) => (state.data?.some((one) => one.state === 'solving') ? SOLVING_MS : 30_000),
  });
export const usePlan = (id: string | undefined) =>
  useQuery({
    queryKey: ['plan', id],
    enabled: id !== undefined,
    queryFn: () => request('plan', { params: { id: id ?? '' } }),
    refetchInterval: ({ state }) => (state.data?.state === 'solving' ? SOLVING_MS : 60_000),
  });
/** What of the published plan no longer holds. */
export const usePlanHolds = (id: string | undefined) =>
  useQuery({
    queryKey: ['planHolds', id],
    enabled: id !== undefined,
    staleTime: 30_000,
    queryFn: () => request('planHolds', { params: { id: id ?? '' } }),
  });
/** What a move would cost; asked anew for each day it is held over. @param move undefined: nothing is held */
export const useTry = (move: PlanTry | undefined, revision: number) =>
  useQuery({
    queryKey: ['tryMove', revision, move],
    enabled: move !== undefined,
    staleTime: 60_000,
    retry: false,
    queryFn: () => request('tryMove', { body: move as PlanTry }),
  });
export const useDayBoard = (depot: string, date: string) =>
  useQuery({
    ...LIVE,
    queryKey: ['dayBoard', depot, date],
    enabled: depot !== '',
    queryFn: () => request('dayBoard', { query: { depot, ...(date ? { date } : {}) } }),
  });
export const usePlannedVisits = () => useItems('plannedVisits', undefined, { staleTime: 30_000 });
export const useLookBy = () => useItems('lookBy', undefined, { staleTime: 30_000 });
export const useCalendarLinks = () => useItems('calendarLinks', undefined, { staleTime: 30_000 });

/** Who is there and when bears on what a published plan can keep. */
const SHOP = ['shop', 'planHolds'] as const;
/** A plan is there anew before the next change stands on it. */
const PLAN = ['plan', 'plans'] as const;
export const useAddPlan = () => useSubmit('addPlan', (body: NewPlan) => ({ body }), ['plans']);
export const useMovePlan = (id: string) => useSubmit('movePlan', (body: PlanMove) => ({ params: { id }, body }), PLAN);
export const useLockVisit = (id: string) =>
  useSubmit('lockVisit', (body: PlanLock) => ({ params: { id }, body }), PLAN);
export const useUndoMove = (id: string) => useSubmit('undoMove', (body: PlanSeen) => ({ params: { id }, body }), PLAN);
export const useCancelPlan = (id: string) =>
  useSubmit('cancelPlan', (body: PlanSeen) => ({ params: { id }, body }), PLAN);
export const usePublishPlan = (id: string) => useSubmit('publishPlan', (body: PlanSeen) => ({ params: { id }, body }));
export const useChangeShop = (depot: string) =>
  useSubmit('changeShop', (body: ShopChange) => ({ params: { depot }, body }), SHOP);
export const useChangePlanTerms = () => useSubmit('changePlanTerms', (body: PlanTermsChange) => ({ body }), ['shop']);
export const useAddAbsence = () => useSubmit('addAbsence', (body: NewAbsence) => ({ body }), SHOP);
export const useWithdrawAbsence = () => useSubmit('withdrawAbsence', (id: string) => ({ params: { id } }), SHOP);
export const useReadCalendar = () => useSubmit('readCalendar', (body: CalendarFile) => ({ body }), SHOP);
export const useAddCalendarLink = () =>
  useSubmit('addCalendarLink', (body: NewCalendarLink) => ({ body }), ['calendarLinks']);
export const useWithdrawCalendarLink = () =>
  useSubmit('withdrawCalendarLink', (id: string) => ({ params: { id } }), ['calendarLinks']);
export const planPdfPath = (id: string, week: string, depot: string) =>
  `${pathOf('planPdf', { id })}?week=${week}${depot ? `&depot=${encodeURIComponent(depot)}` : ''}`;
