import type { NewInspection, QuestionAnswer } from '@mile-mark/contract/inspections';
import { useItems, useSubmit } from './queries.ts';
import type { BodyOf } from './request.ts';

export const useSaveInspection = () => useSubmit('addReadings', (body: NewInspection) => ({ body }));
export const useCorrectReading = () =>
  useSubmit('correctReading', ({ readingId, ...body }: { readingId: string } & BodyOf<'correctReading'>) => ({
    params: { id: readingId },
    body,
  }));
export const useOwnInspections = () => useItems('ownInspections', undefined);
export const useVehicleSheets = (unit: string) => useItems('vehicleSheets', { unit }, { enabled: unit !== '' });
export const useWithdrawInspection = () =>
  useSubmit(
    'withdrawInspection',
    ({ inspectionId, ...body }: { inspectionId: string } & BodyOf<'withdrawInspection'>) => ({
      params: { id: inspectionId },
      body,
    }),
  );
export const useWithdrawFinding = () =>
  useSubmit('withdrawFinding', ({ findingId, ...body }: { findingId: string } & BodyOf<'withdrawFinding'>) => ({
    params: { id: findingId },
    body,
  }));
export const useWithdrawService = () =>
  useSubmit('withdrawService', ({ serviceId, ...body }: { serviceId: string } & BodyOf<'withdrawService'>) => ({
    params: { id: serviceId },
    body,
  }));
export const useCorrectOdometer = () =>
  useSubmit('correctOdometer', ({ inspectionId, ...body }: { inspectionId: string } & BodyOf<'correctOdometer'>) => ({
    params: { id: inspectionId },
    body,
  }));
export type NewServiceBody = BodyOf<'addService'>;
export const useAddService = () => useSubmit('addService', (body: NewServiceBody) => ({ body }));

export const useQuestions = (enabled = true) => useItems('questions', undefined, { refetchInterval: 30_000, enabled });
export const useSettledQuestions = () => useItems('settledQuestions', undefined);
export const useUndoAnswer = () =>
  useSubmit('undoAnswer', ({ answerId, id }: { answerId: string; id: string }) => ({
    params: { id: answerId },
    body: { id },
  }));
export const useAnswerQuestion = () =>
  useSubmit('answerQuestion', ({ subject, ...body }: QuestionAnswer & { subject: string }) => ({
    params: { id: subject },
    body,
  }));
