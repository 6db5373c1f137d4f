import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { RouterProvider } from 'react-router';
import './app.css';
import { ApiError } from './api/client';
import { applyTheme, storedTheme } from './frame/theme';
import { router } from './routes';

applyTheme(storedTheme());

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      retry: (failures, error) =>
        failures < 2 && error instanceof ApiError && error.code === 'UNREACHABLE',
    },
  },
});

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <RouterProvider router={router} />
    </QueryClientProvider>
  </StrictMode>,
);
