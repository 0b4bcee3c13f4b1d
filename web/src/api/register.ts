import type { ModelBuild, NewDutyPeriod } from '@mile-mark/contract/register';
import type { z } from 'zod';
import { useAnswer, useItems, useSubmit } from './queries.ts';
import type { BodyOf } from './request.ts';

export const useDepots = () => useItems('depots', undefined);
export const useVehicles = () => useItems('vehicles', undefined);
export const useDuties = () => useItems('duties', undefined);
export const useModels = () => useItems('models', undefined);
export const useChangeModelBuild = () =>
  useSubmit('changeModelBuild', ({ id, ...body }: { id: string } & ModelBuild) => ({ params: { id }, body }));
export const useLimits = () => useItems('limits', undefined);
export const useAddLimit = () => useSubmit('addLimit', (body: BodyOf<'addLimit'>) => ({ body }));
export const useAddDuty = () => useSubmit('addDuty', (body: BodyOf<'addDuty'>) => ({ body }));
export const useUndoDuty = () => useSubmit('undoDuty', (id: string) => ({ params: { id } }));
export const useChangeDuty = () =>
  useSubmit('changeDuty', ({ unit, ...body }: { unit: string } & z.input<typeof NewDutyPeriod>) => ({
    params: { unit },
    body,
  }));
/** Always as they stand now: what is edited states the revision it saw. */
export const useSettings = () => useAnswer('settings', undefined, { refetchOnMount: 'always' });
export const useChangeSettings = () => useSubmit('changeSettings', (body: BodyOf<'changeSettings'>) => ({ body }));
