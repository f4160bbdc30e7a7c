import '@fontsource-variable/archivo/wdth.css';
import '@fontsource/b612/700.css';
import '../app/theme.css';
import '../app/measures.css';
import './along.css';
import { createRoot } from 'react-dom/client';
import { hold } from './hold.js';
import { PhoneStore } from './store/phone-store.js';
import { App } from './ui/App.js';
import { showAsLeft } from './ui/Looks.js';
import { PhoneApp } from './ui/phone-app.js';

const root = createRoot(document.getElementById('root')!);

async function begin(isTaken = false): Promise<void> {
  showAsLeft();
  const held = await hold(isTaken);
  if (!held) return elsewhere();
  try {
    const store = await PhoneStore.open();
    const app = await PhoneApp.open(store);
    root.render(<App app={app} />);
    void held.lost.then(async () => {
      await app.close();
      elsewhere();
    });
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
}

function elsewhere(): void {
  root.render(
    <main className="along">
      <p className="along-what">Ebrix leads on this phone in another window.</p>
      <button type="button" className="along-main" onClick={() => void begin(true)}>
        Go on here instead
      </button>
    </main>,
  );
}

void begin();
// Only where the page is trusted: over https, or on this machine itself.
if ('serviceWorker' in navigator)
  void navigator.serviceWorker.register('/along-worker.js', { scope: '/along' }).catch(() => undefined);
