import { type QueryClient, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { Me, NewPerson, PasswordChange, PersonChange, SessionState } from '@mile-mark/contract/people';
import { ApiProblem, isPassing } from './client.ts';
import { useItems, useSubmit } from './queries.ts';
import { type BodyOf, request } from './request.ts';

/** Who was signed in last on this device, so that Measure opens without a network. Names and units, no secret. */
const KEPT = 'mile-mark.session';
const SESSION = ['sessionState', undefined];

/** Who is signed in; `over` while their session has ended under their hands and the password is asked for again. */
type Session = SessionState & { over?: true };

/** Whom this page has been open for: what they typed stays until they are back or sign out. */
let here: SessionState['me'] = null;

function keep(state: SessionState): Session {
  if (state.me) {
    here = state.me;
    localStorage.setItem(KEPT, JSON.stringify(state));
    return state;
  }
  if (here) return { ...state, me: here, over: true };
  localStorage.removeItem(KEPT);
  return state;
}

/** Who is signed in; from the device where the network is cut. */
export const sessionQuery = {
  queryKey: SESSION,
  queryFn: async () => {
    try {
      return keep(await request('sessionState', {}));
    } catch (error) {
      const kept = localStorage.getItem(KEPT);
      if (!isPassing(error) || !kept) throw error;
      const state = JSON.parse(kept) as Session;
      // Kept before anybody was limited to depots.
      return state.me ? { ...state, me: { ...state.me, depots: state.me.depots ?? [] } } : state;
    }
  },
  staleTime: 60_000,
  retry: false,
};

export const useSession = () => useQuery(sessionQuery);

/** The person signed in; screens below the shell always have one. */
export function useMe(): Me {
  const { data } = useSession();
  if (!data?.me) throw new Error('nobody is signed in');
  return data.me;
}

/** The session has ended: it is asked anew who is signed in. */
export function sessionEnded(queries: QueryClient): void {
  if (here) void queries.invalidateQueries({ queryKey: SESSION });
}

/** A call that answers with who is signed in from then on. */
function useSessionChange<Body>(change: (body: Body) => Promise<SessionState>) {
  const queries = useQueryClient();
  return useMutation({
    mutationKey: ['signIn'],
    mutationFn: change,
    onSuccess: (state) => {
      queries.setQueryData(SESSION, keep(state));
      void queries.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] !== SESSION[0] });
    },
  });
}

export const useSignIn = () => useSessionChange((body: BodyOf<'signIn'>) => request('signIn', { body }));
export const useFirstAccount = () =>
  useSessionChange((body: BodyOf<'firstAccount'>) => request('firstAccount', { body }));

export const useResetPassword = () =>
  useSessionChange((body: BodyOf<'resetPassword'>) => request('resetPassword', { body }));
export const useMakeResetLink = () => useSubmit('makeResetLink', (id: string) => ({ params: { id } }), []);
export const useOwnSessions = () => useItems('ownSessions', undefined, { refetchOnMount: 'always' });
export const useEndSession = () => useSubmit('endSession', (id: string) => ({ params: { id } }), ['ownSessions']);

/** Units are shown as chosen at once; two choices in a row are sent one after the other, the second knowing the first. */
export function useSetPreferences() {
  const queries = useQueryClient();
  return useMutation({
    scope: { id: 'preferences' },
    mutationFn: (body: BodyOf<'setPreferences'>) => request('setPreferences', { body }),
    onMutate: (body) =>
      queries.setQueryData<SessionState>(SESSION, (state) =>
        state?.me ? { ...state, me: { ...state.me, ...(body as Partial<Me>) } } : state,
      ),
    onSuccess: (state) => queries.setQueryData(SESSION, keep(state)),
    onError: () => queries.invalidateQueries({ queryKey: SESSION }),
  });
}

export function useSignOut() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async () => {
      try {
        await request('signOut', {});
      } catch (error) {
        // Signed out already: the session has ended.
        if (!(error instanceof ApiProblem) || error.status !== 401) throw error;
      }
    },
    onSuccess: () => {
      here = null;
      localStorage.removeItem(KEPT);
      queries.clear();
    },
  });
}

export const usePeople = () => useItems('people', undefined);
export const useEndAccess = () => useSubmit('endAccess', (id: string) => ({ params: { id } }));
export const useMergePerson = () =>
  useSubmit('mergePerson', ({ id, into }: { id: string; into: string }) => ({ params: { id }, body: { into } }));
export const useAddPerson = () => useSubmit('addPerson', (body: NewPerson) => ({ body }));
export const useChangePerson = () =>
  useSubmit('changePerson', ({ id, ...body }: PersonChange & { id: string }) => ({ params: { id }, body }));
export const useChangePassword = () => useSubmit('changePassword', (body: PasswordChange) => ({ body }));
