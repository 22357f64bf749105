import 'bootstrap/dist/css/bootstrap.min.css';
import '@fontsource-variable/atkinson-hyperlegible-next/index.css';
import '@fontsource-variable/atkinson-hyperlegible-mono/index.css';
import '@fontsource-variable/newsreader/opsz.css';
import './ui/look/tokens.css';
import './ui/look/base.css';
import './ui/look/frame.css';
import './ui/look/table.css';
import './ui/look/glyphs.css';
import './ui/look/states.css';
import './ui/look/hunt.css';
import './ui/look/places.css';
import './ui/look/boards.css';
import './ui/look/rules.css';
import './ui/look/tuning.css';
import './ui/look/cases.css';
import './ui/look/runbooks.css';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { App } from './app/App.js';

const root = document.getElementById('root');
if (root === null) throw new Error('The page has no place for the application.');
createRoot(root).render(
  <StrictMode>
    <App />
  </StrictMode>,
);
