import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { Me, SessionState } from '@mile-mark/contract';
import { call, isPassing } from './client.ts';

/** Who was signed in last on this device, so that Measure opens without a network. Names and units, no secret. */
const KEPT = 'mile-mark.session';

function keep(state: SessionState): SessionState {
  if (state.me) localStorage.setItem(KEPT, JSON.stringify(state));
  else localStorage.removeItem(KEPT);
  return state;
}

export function useSession() {
  return useQuery({
    queryKey: ['session'],
    queryFn: async () => {
      try {
        return keep(await call<SessionState>('GET', '/api/session'));
      } catch (error) {
        const kept = localStorage.getItem(KEPT);
        if (!isPassing(error) || !kept) throw error;
        return JSON.parse(kept) as SessionState;
      }
    },
    staleTime: 60_000,
    retry: false,
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
    onSuccess: (state) => queries.setQueryData(['session'], keep(state)),
  });
}

export function useFirstAccount() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: { name: string; email: string; password: string }) =>
      call<SessionState>('POST', '/api/first-account', body),
    onSuccess: (state) => queries.setQueryData(['session'], keep(state)),
  });
}

export function useSignOut() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => call<null>('DELETE', '/api/session'),
    onSuccess: () => {
      localStorage.removeItem(KEPT);
      queries.clear();
    },
  });
}

export function useSetPreferences() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Pick<Me, 'distanceUnit' | 'thicknessUnit'>) =>
      call<SessionState>('PUT', '/api/me/preferences', body),
    onSuccess: (state) => queries.setQueryData(['session'], keep(state)),
  });
}
