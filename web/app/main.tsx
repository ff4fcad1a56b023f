import '@fontsource-variable/bricolage-grotesque/wght.css';
import '@fontsource-variable/instrument-sans/wght.css';
import '@fontsource-variable/spline-sans-mono/wght.css';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { StyleSheetManager } from 'styled-components';
import { warmSound } from '../listen/warmSound.ts';
import { App } from './App.tsx';
import { GlobalStyle } from './globalStyle.ts';
import { makeServices, ServicesContext } from '../state/services.ts';
import { store } from '../state/store.ts';

const services = makeServices(store);
const nonce = document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce;

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Provider store={store}>
      <StyleSheetManager nonce={nonce}>
        <GlobalStyle />
        <ServicesContext value={services}>
          <App />
        </ServicesContext>
      </StyleSheetManager>
    </Provider>
  </StrictMode>,
);

warmSound();
