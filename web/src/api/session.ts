import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { Me, SessionState } from '@mile-mark/contract';
import { call } from './client.ts';

export function useSession() {
  return useQuery({
    queryKey: ['session'],
    queryFn: () => call<SessionState>('GET', '/api/session'),
    staleTime: 60_000,
  });
}

/** The person signed in; screens below the shell always have one. */
export function useMe(): Me {
  const { data } = useSession();
  if (!data?.me) throw new Error('nobody is signed in');
  return data.me;
}

export function useSignIn() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: { email: string; password: string }) => call<SessionState>('POST', '/api/session', body),
    onSuccess: (state) => queries.setQueryData(['session'], state),
  });
}

export function useFirstAccount() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: { name: string; email: string; password: string }) =>
      call<SessionState>('POST', '/api/first-account', body),
    onSuccess: (state) => queries.setQueryData(['session'], state),
  });
}

export function useSignOut() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => call<null>('DELETE', '/api/session'),
    onSuccess: () => {
      queries.clear();
    },
  });
}

export function useSetPreferences() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Pick<Me, 'distanceUnit' | 'thicknessUnit'>) =>
      call<SessionState>('PUT', '/api/me/preferences', body),
    onSuccess: (state) => queries.setQueryData(['session'], state),
  });
}
