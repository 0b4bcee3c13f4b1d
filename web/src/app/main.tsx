import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { RouterProvider } from 'react-router';
import { Toaster } from 'sonner';
import { ApiProblem } from '../api/client.ts';
import { router } from './routes.tsx';
import './theme.css';

const queries = new QueryClient({
  defaultOptions: {
    // A cut network is told at once instead of waited out.
    mutations: { networkMode: 'always' },
    queries: {
      networkMode: 'always',
      staleTime: 5_000,
      retry: (failures, error) => failures < 2 && !(error instanceof ApiProblem && error.status < 500),
    },
  },
});

// Keeps the application itself on the device, so that Measure opens without a network.
if (import.meta.env.PROD && 'serviceWorker' in navigator) void navigator.serviceWorker.register('/sw.js');

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
