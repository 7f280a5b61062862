import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { Toaster } from 'sonner';
import { ProblemError } from './api/client.ts';
import { App } from './app.tsx';
import { applyTheme } from './features/shell/preferences.ts';
import './styles.css';

applyTheme();

const client = new QueryClient({
  defaultOptions: {
    // A network that is away is answered by what is at hand, or said at once.
    mutations: { networkMode: 'always' },
    queries: {
      networkMode: 'always',
      retry: (count, error) => count < 2 && !(error instanceof ProblemError && error.details.status >= 400),
      refetchOnWindowFocus: true,
    },
  },
});

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <BrowserRouter>
        <App />
      </BrowserRouter>
      <Toaster
        position="bottom-center"
        toastOptions={{
          style: {
            background: 'var(--sheet)',
            color: 'var(--ink)',
            border: '1px solid var(--rule-strong)',
            fontSize: '1rem',
          },
        }}
      />
    </QueryClientProvider>
  </StrictMode>,
);
