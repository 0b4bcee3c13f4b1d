import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type {
  ChangeAnswer,
  DutyInUse,
  FeedView,
  ForecastInput,
  Gauge,
  InspectionSaved,
  MileMarks,
  Model,
  NewDuty,
  NewGauge,
  NewInspection,
  NewPerson,
  Person,
  SettingsChange,
  SettingsView,
  VehicleDetail,
  VehicleRow,
  WearChange,
  WhyMark,
} from '@mile-mark/contract';
import { call } from './client.ts';

/** While forecasts are being brought up to date, look again soon; else now and then. */
const soonWhilePending = (pending: number | undefined) => (pending && pending > 0 ? 700 : 20_000);

export function useMileMarks() {
  return useQuery({
    queryKey: ['mile-marks'],
    queryFn: () => call<MileMarks>('GET', '/api/mile-marks'),
    refetchInterval: ({ state }) => soonWhilePending(state.data?.refresh.pending),
  });
}

export function useVehicle(unit: string | undefined) {
  return useQuery({
    queryKey: ['vehicle', unit],
    queryFn: () => call<VehicleDetail>('GET', `/api/vehicles/${encodeURIComponent(unit ?? '')}`),
    enabled: unit !== undefined && unit !== '',
    refetchInterval: ({ state }) => soonWhilePending(state.data?.refresh.pending),
    placeholderData: (before) => (before?.unit === unit ? before : undefined),
  });
}

interface List<T> {
  items: T[];
}
const list = <T>(path: string) => ({
  queryKey: [path],
  queryFn: async () => (await call<List<T>>('GET', `/api/${path}`)).items,
});

export const useVehicles = () => useQuery(list<VehicleRow>('vehicles'));
export const useGauges = () => useQuery(list<Gauge>('gauges'));
export const usePeople = () => useQuery(list<Person>('people'));
export const useDuties = () => useQuery(list<DutyInUse>('duties'));
export const useModels = () => useQuery(list<Model>('models'));
export const useChanges = () => useQuery(list<WearChange>('changes'));

/** A write after which everything shown may be old. */
function useWrite<Body, Answer>(write: (body: Body) => Promise<Answer>) {
  const queries = useQueryClient();
  return useMutation({ mutationFn: write, onSuccess: () => void queries.invalidateQueries() });
}

export const useSaveInspection = () =>
  useWrite((body: NewInspection) => call<InspectionSaved>('POST', '/api/readings', body));
export const useCorrectReading = () =>
  useWrite(({ readingId, ...body }: { readingId: string; id: string; thickness?: string; reason: string }) =>
    call<{ id: string }>('POST', `/api/readings/${readingId}/corrections`, body),
  );
export const useCorrectOdometer = () =>
  useWrite(({ inspectionId, ...body }: { inspectionId: string; id: string; odometer: string; reason: string }) =>
    call<{ id: string }>('POST', `/api/inspections/${inspectionId}/odometer`, body),
  );
export const useAddService = () =>
  useWrite((body: { id: string; unit: string; axle: number; date: string; odometer: string; fitted: string }) =>
    call<{ id: string }>('POST', '/api/services', body),
  );
export const useChangeDuty = () =>
  useWrite(({ unit, ...body }: { unit: string; id: string; duty: string; from: string }) =>
    call<{ id: string }>('POST', `/api/vehicles/${encodeURIComponent(unit)}/duty-periods`, body),
  );
export const useSettings = () =>
  useQuery({ queryKey: ['settings'], queryFn: () => call<SettingsView>('GET', '/api/settings') });
export const useChangeSettings = () =>
  useWrite((body: SettingsChange) => call<SettingsView>('PUT', '/api/settings', body));
export const useAddDuty = () => useWrite((body: NewDuty) => call<{ id: string }>('POST', '/api/duties', body));
export const useAnswerChange = () =>
  useWrite(({ changeId, ...body }: { changeId: string } & ChangeAnswer) =>
    call<{ id: string }>('POST', `/api/changes/${changeId}/answers`, body),
  );
export const useFeed = () =>
  useQuery({
    queryKey: ['feed'],
    queryFn: () => call<FeedView>('GET', '/api/feed'),
    refetchInterval: 10_000,
  });
export const usePollFeed = () => useWrite(() => call<null>('POST', '/api/feed/polls'));

/** Why its marks are where they are, against a month ago. */
export const useWhy = (unit: string) =>
  useQuery({
    queryKey: ['why', unit],
    queryFn: () => call<WhyMark>('GET', `/api/vehicles/${encodeURIComponent(unit)}/why`),
  });

/** All that a vehicle's forecast rests on, for trying in the browser what would be if. */
export const useForecastInput = (unit: string) =>
  useQuery({
    queryKey: ['forecast-input', unit],
    queryFn: () => call<ForecastInput>('GET', `/api/vehicles/${encodeURIComponent(unit)}/forecast-input`),
  });
export const useAddGauge = () => useWrite((body: NewGauge) => call<{ id: string }>('POST', '/api/gauges', body));
export const useAddPerson = () => useWrite((body: NewPerson) => call<{ id: string }>('POST', '/api/people', body));
