import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type {
  Hands,
  NewStudy,
  NewStudyValue,
  Question,
  QuestionAnswer,
  StudyDetail,
  StudyImport,
  StudySummary,
  WithoutPooling,
} from '@mile-mark/contract';
import { call } from './client.ts';

export const useHands = () => useQuery({ queryKey: ['hands'], queryFn: () => call<Hands>('GET', '/api/hands') });

export const useStudies = () =>
  useQuery({
    queryKey: ['studies'],
    queryFn: async () => (await call<{ items: StudySummary[] }>('GET', '/api/studies')).items,
  });

export const useStudy = (id: string | undefined) =>
  useQuery({
    queryKey: ['studies', id],
    queryFn: () => call<StudyDetail>('GET', `/api/studies/${id}`),
    enabled: id !== undefined,
  });

/** Done when the plan is there anew: the next figure must not go to the run before. */
function useStudyWrite<Body, Answer>(write: (body: Body) => Promise<Answer>) {
  const queries = useQueryClient();
  return useMutation({ mutationFn: write, onSuccess: () => queries.invalidateQueries({ queryKey: ['studies'] }) });
}

export const useAddStudy = () => useStudyWrite((body: NewStudy) => call<{ id: string }>('POST', '/api/studies', body));
export const useImportStudy = () =>
  useStudyWrite((body: StudyImport) => call<{ id: string }>('POST', '/api/studies/imports', body));
export const useAddStudyValue = (studyId: string) =>
  useStudyWrite((body: NewStudyValue) => call<{ id: string }>('POST', `/api/studies/${studyId}/values`, body));

export const useQuestions = (enabled = true) =>
  useQuery({
    queryKey: ['questions'],
    queryFn: async () => (await call<{ items: Question[] }>('GET', '/api/questions')).items,
    refetchInterval: 30_000,
    enabled,
  });

export function useAnswerQuestion() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ subject, ...body }: QuestionAnswer & { subject: string }) =>
      call<{ id: string }>('POST', `/api/questions/${subject}/answers`, body),
    onSuccess: () => void queries.invalidateQueries(),
  });
}

/** The marks as each axle's last look alone would put them; asked for only where the comparison is opened. */
export const useWithoutPooling = (unit: string, open: boolean) =>
  useQuery({
    queryKey: ['vehicle', unit, 'without-pooling'],
    queryFn: () => call<WithoutPooling>('GET', `/api/vehicles/${encodeURIComponent(unit)}/without-pooling`),
    enabled: open,
  });
