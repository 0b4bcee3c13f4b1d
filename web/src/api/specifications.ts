import { useAnswer, useItems, useSubmit } from './queries.ts';
import type { BodyOf } from './request.ts';

export const useJointKinds = () => useItems('jointKinds', undefined);
export const useLibraryModels = () => useItems('libraryModels', undefined);
export const useSpecifications = (modelId: string) => useItems('specifications', { id: modelId });
export const useOpenSpecifications = () => useItems('openSpecifications', undefined);
export const useRevisions = (specificationId: string) => useItems('revisions', { id: specificationId });
export const useTorqueTools = () => useItems('torqueTools', undefined);
export const useChangedSince = () => useItems('changedSince', undefined);
export const useCoverage = () => useAnswer('coverage', undefined);

/** One vehicle's bench sheets, straight from the server. */
export const useBenchOfVehicle = (unit: string | undefined, enabled = true) =>
  useAnswer('benchOfVehicle', { unit: unit ?? '' }, { enabled: enabled && unit !== undefined, retry: false });

export const useAddJointKind = () => useSubmit('addJointKind', (body: BodyOf<'addJointKind'>) => ({ body }));
export const useAddRevision = () => useSubmit('addRevision', (body: BodyOf<'addRevision'>) => ({ body }));
export const useRelease = () =>
  useSubmit('releaseRevision', ({ revisionId, ...body }: { revisionId: string } & BodyOf<'releaseRevision'>) => ({
    params: { id: revisionId },
    body,
  }));
export const useWithdraw = () =>
  useSubmit('withdrawRevision', ({ revisionId, ...body }: { revisionId: string } & BodyOf<'withdrawRevision'>) => ({
    params: { id: revisionId },
    body,
  }));
export const useAddTorqueTool = () => useSubmit('addTorqueTool', (body: BodyOf<'addTorqueTool'>) => ({ body }));
export const useChangeTorqueTool = () =>
  useSubmit('changeTorqueTool', ({ id, ...body }: { id: string } & BodyOf<'changeTorqueTool'>) => ({
    params: { id },
    body,
  }));
export const useAddCalibration = () =>
  useSubmit('addCalibration', ({ toolId, ...body }: { toolId: string } & BodyOf<'addCalibration'>) => ({
    params: { id: toolId },
    body,
  }));
export const useAnswerChanged = () => useSubmit('answerChanged', (body: BodyOf<'answerChanged'>) => ({ body }));
export const useChangeFitment = () =>
  useSubmit('changeFitment', ({ modelId, ...body }: { modelId: string } & BodyOf<'changeFitment'>) => ({
    params: { id: modelId },
    body,
  }));
export const useAddVariant = () =>
  useSubmit('addVariant', ({ modelId, ...body }: { modelId: string } & BodyOf<'addVariant'>) => ({
    params: { id: modelId },
    body,
  }));
export const useChangeModel = () =>
  useSubmit('changeModel', ({ unit, ...body }: { unit: string } & BodyOf<'changeModel'>) => ({
    params: { unit },
    body,
  }));
export const useImportLibrary = () => useSubmit('importLibrary', (body: BodyOf<'importLibrary'>) => ({ body }));
