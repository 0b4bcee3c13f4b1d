import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { Me, NewPerson, SessionState } from '@mile-mark/contract/people';
import { isPassing } from './client.ts';
import { useItems, useSubmit } from './queries.ts';
import { type BodyOf, request } from './request.ts';

/** Who was signed in last on this device, so that Measure opens without a network. Names and units, no secret. */
const KEPT = 'mile-mark.session';
const SESSION = ['sessionState', undefined];

function keep(state: SessionState): SessionState {
  if (state.me) localStorage.setItem(KEPT, JSON.stringify(state));
  else localStorage.removeItem(KEPT);
  return state;
}

export function useSession() {
  return useQuery({
    queryKey: SESSION,
    queryFn: async () => {
      try {
        return keep(await request('sessionState', {}));
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

/** A call that answers with who is signed in from then on. */
function useSessionChange<Body>(change: (body: Body) => Promise<SessionState>) {
  const queries = useQueryClient();
  return useMutation({ mutationFn: change, onSuccess: (state) => queries.setQueryData(SESSION, keep(state)) });
}

export const useSignIn = () => useSessionChange((body: BodyOf<'signIn'>) => request('signIn', { body }));
export const useFirstAccount = () =>
  useSessionChange((body: BodyOf<'firstAccount'>) => request('firstAccount', { body }));

/** Units are shown as chosen at once; two choices in a row are sent one after the other, the second knowing the first. */
export function useSetPreferences() {
  const queries = useQueryClient();
  return useMutation({
    scope: { id: 'preferences' },
    mutationFn: (body: BodyOf<'setPreferences'>) => request('setPreferences', { body }),
    onMutate: (body) =>
      queries.setQueryData<SessionState>(SESSION, (state) =>
        state?.me ? { ...state, me: { ...state.me, ...body } } : state,
      ),
    onSuccess: (state) => queries.setQueryData(SESSION, keep(state)),
    onError: () => queries.invalidateQueries({ queryKey: SESSION }),
  });
}

export function useSignOut() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => request('signOut', {}),
    onSuccess: () => {
      localStorage.removeItem(KEPT);
      queries.clear();
    },
  });
}

export const usePeople = () => useItems('people', undefined);
export const useEndAccess = () => useSubmit('endAccess', (id: string) => ({ params: { id } }));
export const useAddPerson = () => useSubmit('addPerson', (body: NewPerson) => ({ body }));
