import './styles.css';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { SWRConfig } from 'swr';
import { getJson, wasCancelled } from './api/client.ts';
import { warmUp } from './api/warmUp.ts';
import { App } from './app/App.tsx';
import { fontIsThere } from './app/fonts.ts';
import { Gate } from './people/Gate.tsx';

warmUp(location.pathname);
const root = document.getElementById('root');
if (!root) throw new Error('no place for the page');
await fontIsThere();
createRoot(root).render(
  <StrictMode>
    <SWRConfig
      value={{
        fetcher: getJson,
        revalidateOnFocus: false,
        dedupingInterval: 500,
        shouldRetryOnError: (error) => !wasCancelled(error),
      }}
    >
      <BrowserRouter>
        <Gate>
          <App />
        </Gate>
      </BrowserRouter>
    </SWRConfig>
  </StrictMode>,
);
