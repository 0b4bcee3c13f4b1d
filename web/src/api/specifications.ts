import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type {
  BenchOfVehicle,
  ChangedAnswer,
  ChangedSince,
  Coverage,
  Depot,
  Fitment,
  JointKindRow,
  LibraryImport,
  LibraryImported,
  LibraryModel,
  Limit,
  NewRevision,
  NewTorqueTool,
  ReleaseAnswer,
  ReleaseAttempt,
  Revision,
  Specification,
  TorqueTool,
} from '@mile-mark/contract';
import { call } from './client.ts';

/** Queries of lists whose items stand at this address. */
function useItems<T>(path: string, enabled = true) {
  return useQuery({
    queryKey: [path],
    queryFn: async () => (await call<{ items: T[] }>('GET', `/api/${path}`)).items,
    enabled,
  });
}

/** A write after which everything shown of specifications may be old. */
function useWrite<Body, Answer>(write: (body: Body) => Promise<Answer>) {
  const queries = useQueryClient();
  return useMutation({ mutationFn: write, onSuccess: () => void queries.invalidateQueries() });
}

export const useJointKinds = () => useItems<JointKindRow>('joint-kinds');
export const useLibraryModels = () => useItems<LibraryModel>('library');
export const useSpecifications = (modelId: string) => useItems<Specification>(`models/${modelId}/specifications`);
export const useOpenSpecifications = () => useItems<Specification>('specifications/open');
export const useRevisions = (specificationId: string) =>
  useItems<Revision>(`specifications/${specificationId}/revisions`);
export const useTorqueTools = () => useItems<TorqueTool>('torque-tools');
export const useChangedSince = () => useItems<ChangedSince>('changed-specifications');
export const useDepots = () => useItems<Depot>('depots');
export const useLimits = () => useItems<Limit>('limits');

export const useCoverage = () =>
  useQuery({ queryKey: ['coverage'], queryFn: () => call<Coverage>('GET', '/api/specification-coverage') });

/** One vehicle's bench sheets, straight from the server. */
export const useBenchOfVehicle = (unit: string | undefined, enabled = true) =>
  useQuery({
    queryKey: ['bench-of', unit],
    queryFn: () => call<BenchOfVehicle>('GET', `/api/vehicles/${encodeURIComponent(unit ?? '')}/bench`),
    enabled: enabled && unit !== undefined,
    retry: false,
  });

export const useAddJointKind = () =>
  useWrite((body: JointKindRow) => call<{ id: string }>('POST', '/api/joint-kinds', body));
export const useAddRevision = () =>
  useWrite((body: NewRevision) => call<{ id: string }>('POST', '/api/specifications', body));
export const useRelease = () =>
  useWrite(({ revisionId, ...body }: { revisionId: string } & ReleaseAttempt) =>
    call<ReleaseAnswer>('POST', `/api/specification-revisions/${revisionId}/releases`, body),
  );
export const useWithdraw = () =>
  useWrite(({ revisionId, reason }: { revisionId: string; reason: string }) =>
    call<{ id: string }>('POST', `/api/specification-revisions/${revisionId}/withdrawal`, { reason }),
  );
export const useAddTorqueTool = () =>
  useWrite((body: NewTorqueTool) => call<{ id: string }>('POST', '/api/torque-tools', body));
export const useChangeTorqueTool = () =>
  useWrite(({ id, ...body }: { id: string; depot: string; retired: boolean }) =>
    call<{ id: string }>('PUT', `/api/torque-tools/${id}`, body),
  );
export const useAddCalibration = () =>
  useWrite(({ toolId, ...body }: { toolId: string; id: string; doneOn: string; due: string }) =>
    call<{ id: string }>('POST', `/api/torque-tools/${toolId}/calibrations`, body),
  );
export const useAnswerChanged = () =>
  useWrite((body: ChangedAnswer) => call<{ id: string }>('POST', '/api/changed-specifications/answers', body));
export const useChangeFitment = () =>
  useWrite(({ modelId, ...body }: { modelId: string } & Fitment) =>
    call<{ id: string }>('PUT', `/api/models/${modelId}/fitment`, body),
  );
export const useAddVariant = () =>
  useWrite(({ modelId, ...body }: { modelId: string; id: string; name: string; fitment: Fitment }) =>
    call<{ id: string }>('POST', `/api/models/${modelId}/variants`, body),
  );
export const useChangeModel = () =>
  useWrite(({ unit, model }: { unit: string; model: string }) =>
    call<{ id: string }>('PUT', `/api/vehicles/${encodeURIComponent(unit)}/model`, { model }),
  );
export const useImportLibrary = () =>
  useWrite((body: LibraryImport) => call<LibraryImported>('POST', '/api/library/imports', body));
export const useAddLimit = () =>
  useWrite(
    (body: Omit<Limit, 'checkedBy' | 'aboveGvwrKg' | 'upToGvwrKg'> & { aboveGvwrKg?: number; upToGvwrKg?: number }) =>
      call<{ id: string }>('POST', '/api/limits', body),
  );
