import { MutationCache, QueryCache, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { RouterProvider } from 'react-router';
import { toast, Toaster } from 'sonner';
import { ApiProblem, isPassing } from '../api/client.ts';
import { marksQuery } from '../api/forecasts.ts';
import { sessionEnded, sessionQuery } from '../api/people.ts';
import { fetchAnswersOf } from '../api/nearAnswers.ts';
import { HearingClient } from '../api/queryClient.ts';
import { fetchNearLinks } from './nearLinks.ts';
import { router } from './routes.tsx';
import './theme.css';

/** Whether the server does not know who asks. */
const isUnknown = (error: unknown): boolean => error instanceof ApiProblem && error.status === 401;

const queries: HearingClient = new HearingClient({
  queryCache: new QueryCache({
    // What is on screen stays when fetching it again fails; that it may be old is said. A cut network has its banner.
    onError: (error, { state, meta }) => {
      if (isUnknown(error)) return sessionEnded(queries);
      const isAskedAnew = meta?.askedAnew === true && error instanceof ApiProblem && error.status === 409;
      if (state.data !== undefined && error instanceof ApiProblem && !isAskedAnew)
        toast(`What is shown may be old: ${error.message}`, { id: 'old' });
    },
  }),
  mutationCache: new MutationCache({
    onError: (error, _form, _context, { options }) => {
      // A wrong password is no session that ended.
      if (isUnknown(error) && options.mutationKey?.[0] !== 'signIn') sessionEnded(queries);
    },
  }),
  defaultOptions: {
    // A cut network is told at once instead of waited out.
    mutations: { networkMode: 'always' },
    queries: {
      networkMode: 'always',
      staleTime: 5_000,
      retry: (failures, error) => failures < 2 && isPassing(error),
    },
  },
});

// The home screen's part, its marks and who is signed in are fetched at once, not one after the other.
void queries.prefetchQuery(sessionQuery);
if (window.location.pathname === '/') {
  void import('../screens/forecasts/ahead/Ahead.tsx');
  void queries.prefetchQuery(marksQuery);
}

// Keeps the application itself on the device, so that Measure opens without a network.
if (import.meta.env.PROD && 'serviceWorker' in navigator) void navigator.serviceWorker.register('/sw.js');

fetchNearLinks(router.routes, (pathname) => fetchAnswersOf(queries, pathname));

const root = document.getElementById('root');
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <RouterProvider router={router} />
        <Toaster position="bottom-left" toastOptions={{ style: { fontFamily: 'var(--font-sans)' } }} />
      </QueryClientProvider>
    </StrictMode>,
  );
}
