import type { NewGauge, NewStudy, NewStudyValue, StudyImport } from '@mile-mark/contract/gauges';
import { useAnswer, useItems, useSubmit } from './queries.ts';

export const useGauges = () => useItems('gauges', undefined);
export const useAddGauge = () => useSubmit('addGauge', (body: NewGauge) => ({ body }));
export const useAppraisers = () => useAnswer('appraisers', undefined);
export const useStudies = () => useItems('studies', undefined);
export const useStudy = (id: string | undefined) => useAnswer('study', { id: id ?? '' }, { enabled: id !== undefined });

/** Done when the plan is there anew: the next figure must not go to the run before. */
const ANEW = ['studies', 'study'] as const;

export const useAddStudy = () => useSubmit('addStudy', (body: NewStudy) => ({ body }), ANEW);
export const useImportStudy = () => useSubmit('importStudy', (body: StudyImport) => ({ body }), ANEW);
export const useAddStudyValue = (studyId: string) =>
  useSubmit('addStudyValue', (body: NewStudyValue) => ({ params: { id: studyId }, body }), ANEW);
