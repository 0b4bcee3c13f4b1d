import type { Depot, ModelBuild, NewDutyPeriod } from '@mile-mark/contract/register';
import type { z } from 'zod';
import { useAnswer, useItems, useSubmit } from './queries.ts';
import type { BodyOf } from './request.ts';

const open = (depots: Depot[]) => depots.filter(({ closedOn }) => closedOn === null);
/** Depots that are open, to choose from. */
export const useDepots = () => useItems('depots', undefined, { select: open });
export const useVehicles = () => useItems('vehicles', undefined);
export const useDuties = () => useItems('duties', undefined);
export const useModels = () => useItems('models', undefined);
export const useChangeModelBuild = () =>
  useSubmit('changeModelBuild', ({ id, ...body }: { id: string } & ModelBuild) => ({ params: { id }, body }));
export const useLimits = () => useItems('limits', undefined);
export const useAddLimit = () => useSubmit('addLimit', (body: BodyOf<'addLimit'>) => ({ body }));
export const useAddDuty = () => useSubmit('addDuty', (body: BodyOf<'addDuty'>) => ({ body }));
export const useUndoDuty = () => useSubmit('undoDuty', (id: string) => ({ params: { id } }));
export const useCorrectDuty = () =>
  useSubmit('correctDuty', ({ of: id, ...body }: { of: string } & BodyOf<'correctDuty'>) => ({ params: { id }, body }));
export const useChangeDuty = () =>
  useSubmit('changeDuty', ({ unit, ...body }: { unit: string } & z.input<typeof NewDutyPeriod>) => ({
    params: { unit },
    body,
  }));
/** Always as they stand now: what is edited states the revision it saw. */
export const useSettings = () => useAnswer('settings', undefined, { refetchOnMount: 'always' });
export const useChangeSettings = () => useSubmit('changeSettings', (body: BodyOf<'changeSettings'>) => ({ body }));
/** All vehicles, also those that left. */
export const useFleet = () => useItems('fleet', undefined);
/** Depots, also those that closed. */
export const useEveryDepot = () => useItems('depots', undefined);
export const useAddVehicle = () => useSubmit('addVehicle', (body: BodyOf<'addVehicle'>) => ({ body }));

type OfUnit<N extends 'changeUnit' | 'moveVehicle' | 'leaveFleet' | 'correctStart'> = {
  of: string;
} & BodyOf<N>;
export const useChangeUnit = () =>
  useSubmit('changeUnit', ({ of, ...body }: OfUnit<'changeUnit'>) => ({ params: { unit: of }, body }));
export const useMoveVehicle = () =>
  useSubmit('moveVehicle', ({ of, ...body }: OfUnit<'moveVehicle'>) => ({ params: { unit: of }, body }));
export const useUndoVehicleMove = () => useSubmit('undoVehicleMove', (id: string) => ({ params: { id } }));
export const useLeaveFleet = () =>
  useSubmit('leaveFleet', ({ of, ...body }: OfUnit<'leaveFleet'>) => ({ params: { unit: of }, body }));
export const useRejoinFleet = () => useSubmit('rejoinFleet', (unit: string) => ({ params: { unit } }));
export const useReplaceInstrument = () =>
  useSubmit('replaceInstrument', ({ of: unit, ...body }: { of: string } & BodyOf<'replaceInstrument'>) => ({
    params: { unit },
    body,
  }));
export const useUndoInstrument = () => useSubmit('undoInstrument', (id: string) => ({ params: { id } }));
export const useCorrectStart = () =>
  useSubmit('correctStart', ({ of, ...body }: OfUnit<'correctStart'>) => ({ params: { unit: of }, body }));

type OfId<N extends 'changeDepot' | 'closeDepot' | 'correctModel'> = { of: string } & BodyOf<N>;
export const useAddDepot = () => useSubmit('addDepot', (body: BodyOf<'addDepot'>) => ({ body }));
export const useChangeDepot = () =>
  useSubmit('changeDepot', ({ of, ...body }: OfId<'changeDepot'>) => ({ params: { id: of }, body }));
export const useCloseDepot = () =>
  useSubmit('closeDepot', ({ of, ...body }: OfId<'closeDepot'>) => ({ params: { id: of }, body }));
export const useReopenDepot = () => useSubmit('reopenDepot', (id: string) => ({ params: { id } }));

/** Always as it stands now: what is edited states the revision it saw. */
export const useModelFigures = (id: string | undefined) =>
  useAnswer('modelFigures', { id: id ?? '' }, { enabled: id !== undefined, refetchOnMount: 'always' });
export const useAddModel = () => useSubmit('addModel', (body: BodyOf<'addModel'>) => ({ body }));
export const useCorrectModel = () =>
  useSubmit('correctModel', ({ of, ...body }: OfId<'correctModel'>) => ({ params: { id: of }, body }));
