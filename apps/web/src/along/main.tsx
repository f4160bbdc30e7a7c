import '@fontsource-variable/archivo/wdth.css';
import '@fontsource/b612/700.css';
import '../app/theme.css';
import '../app/measures.css';
import './along.css';
import { createRoot } from 'react-dom/client';
import { PhoneStore } from './store/phone-store.js';
import { App } from './ui/App.js';
import { showAsLeft } from './ui/Looks.js';
import { PhoneApp } from './ui/phone-app.js';

async function begin(): Promise<void> {
  showAsLeft();
  const root = createRoot(document.getElementById('root')!);
  try {
    root.render(<App app={await PhoneApp.open(await PhoneStore.open())} />);
  } catch (error) {
    root.render(
      <main className="along">
        <p className="along-alarm" role="alert">
          This browser keeps nothing for this page{error instanceof Error && `: ${error.message}`}. Allow it to store
          data, or use another one; private windows keep nothing.
        </p>
      </main>,
    );
  }
  // Only where the page is trusted: over https, or on this machine itself.
  if ('serviceWorker' in navigator) await navigator.serviceWorker.register('/along-worker.js', { scope: '/along' });
}

void begin();
