import type {
  NewKitChange,
  NewMovement,
  NewPart,
  NewPick,
  NewReceipt,
  NewSupplier,
  OrderApproval,
  OrderChange,
  PartChange,
  PartsTermsChange,
  SupplierChange,
} from '@mile-mark/contract/parts';
import { useQuery } from '@tanstack/react-query';
import { useAnswer, useItems, useSubmit } from './queries.ts';
import { request } from './request.ts';

const LIVE = { refetchInterval: 30_000 };

export const usePartsDay = (depot: string) =>
  useQuery({
    ...LIVE,
    queryKey: ['partsDay', depot],
    queryFn: () => request('partsDay', { query: depot ? { depot } : {} }),
  });
export const useParts = () => useItems('parts', undefined, { staleTime: 30_000 });
export const useSuppliers = () => useItems('suppliers', undefined, { staleTime: 300_000 });
export const useStock = (depot: string) => useItems('stock', undefined, LIVE, depot ? { depot } : {});
export const useOrders = (filter: { depot?: string; state?: 'open' | 'received' }) =>
  useItems('orders', undefined, LIVE, filter);
export const useJobKits = () => useItems('jobKits', undefined, LIVE, {});
export const useJobKit = (jobId: string) => useItems('jobKits', undefined, LIVE, { jobId });
export const useKitWeeks = () => useItems('kitWeeks', undefined, LIVE);
export const useAxleKits = (unit: string) => useItems('axleKits', undefined, { staleTime: 30_000 }, { unit });
export const useModelKits = (model: string) =>
  useQuery({
    queryKey: ['modelKits', model],
    enabled: model !== '',
    queryFn: () => request('modelKits', { query: { model } }),
  });
export const usePartsTerms = () => useAnswer('partsTerms', undefined, { staleTime: 30_000 });
export const usePartRecords = () => useItems('partRecords', undefined, { staleTime: 60_000 });
export const useDemand = (part: string, depot: string) =>
  useQuery({
    queryKey: ['demand', part, depot],
    enabled: part !== '' && depot !== '',
    queryFn: () => request('demand', { query: { part, depot } }),
  });

export const useAddSupplier = () => useSubmit('addSupplier', (body: NewSupplier) => ({ body }));
export const useChangeSupplier = (id: string) =>
  useSubmit('changeSupplier', (body: SupplierChange) => ({ params: { id }, body }));
export const useAddPart = () => useSubmit('addPart', (body: NewPart) => ({ body }));
export const useChangePart = (id: string) => useSubmit('changePart', (body: PartChange) => ({ params: { id }, body }));
export const useAddKitChange = () =>
  // Done when the new version is there: the next change stands on it.
  useSubmit('addKitChange', (body: NewKitChange) => ({ body }), ['modelKits']);
export const useChangePartsTerms = () => useSubmit('changePartsTerms', (body: PartsTermsChange) => ({ body }));
export const useMove = () => useSubmit('addMovement', (body: NewMovement) => ({ body }));
export const usePick = () => useSubmit('addPick', (body: NewPick) => ({ body }));
export const useChangeOrder = (id: string) =>
  // Done when the new revision is there: what is opened next stands on it.
  useSubmit('changeOrder', (body: OrderChange) => ({ params: { id }, body }), ['orders', 'partsDay']);
export const useApproveOrder = (id: string) =>
  useSubmit('approveOrder', (body: OrderApproval) => ({ params: { id }, body }));
export const useCallOffOrder = (id: string) =>
  useSubmit('callOffOrder', (body: { id: string; reason: string }) => ({ params: { id }, body }));
export const useReceive = (id: string) => useSubmit('addReceipt', (body: NewReceipt) => ({ params: { id }, body }));
