import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type {
  Duty,
  Gauge,
  InspectionSaved,
  MileMarks,
  NewGauge,
  NewInspection,
  NewPerson,
  Person,
  VehicleDetail,
  VehicleRow,
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
export const useDuties = () => useQuery(list<Duty>('duties'));

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
export const useAddGauge = () => useWrite((body: NewGauge) => call<{ id: string }>('POST', '/api/gauges', body));
export const useAddPerson = () => useWrite((body: NewPerson) => call<{ id: string }>('POST', '/api/people', body));
