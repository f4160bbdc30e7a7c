import { lazy, Suspense, useCallback, useEffect, useState } from 'react';
import { useDispatch, useSelector } from 'react-redux';
import { NavLink, Outlet, useLocation, useNavigate } from 'react-router';
import { SIGNED_OUT } from '../shared/api/base-api.js';
import { useShortcut } from '../shared/shortcuts/index.js';
import {
  setConsoleTheme,
  setTheme,
  setUnits,
  type ConsoleTheme,
  type Preferences,
} from '../shared/preferences/index.js';
import { Notices } from '../shared/ui/Notices.js';
import { ThemeName } from '../shared/ui/theme-name.js';
import { useWaitingEntries } from './use-waiting-entries.js';

const DueCount = lazy(() => import('../entities/life/DueCount.js'));
const SignInForm = lazy(() => import('../entities/account/SignInForm.js'));
const ShortcutHelp = lazy(() => import('../shared/shortcuts/ShortcutHelp.js'));

const PLACES = [
  { to: '/bench', name: 'Bench', keys: 'g>b' },
  { to: '/courses', name: 'Courses', keys: 'g>c' },
  { to: '/trials', name: 'Trials', keys: 'g>t' },
  { to: '/ride', name: 'Ride', keys: 'g>o' },
  { to: '/runs', name: 'Runs', keys: 'g>r' },
  { to: '/forecast', name: 'Forecast', keys: 'g>f' },
  { to: '/decide', name: 'Decide', keys: 'g>d' },
  { to: '/logbook', name: 'Logbook', keys: 'g>l' },
] as const;

/** The rail, the person's choices and the place they are at. */
export function Shell() {
  const {
    theme: pageTheme,
    consoleTheme,
    units,
  } = useSelector(({ preferences }: { readonly preferences: Preferences }) => preferences);
  const { pathname } = useLocation();
  // At the roadside there is no rail: the whole of a small screen is the ride's.
  const isConsole = /^\/ride\/./.test(pathname);
  const theme = isConsole ? consoleTheme : pageTheme;
  useEffect(() => {
    document.documentElement.dataset['theme'] = theme;
  }, [theme]);
  useWaitingEntries();
  const [isSignedOut, setSignedOut] = useState(false);
  useEffect(() => {
    const ask = (): void => setSignedOut(true);
    addEventListener(SIGNED_OUT, ask);
    return () => removeEventListener(SIGNED_OUT, ask);
  }, []);
  const signedIn = useCallback(() => setSignedOut(false), []);
  return (
    <ThemeName value={theme}>
      <a className="unseen" href="#main">
        Skip to the page
      </a>
      <div className={isConsole ? 'console-shell' : 'shell'}>
        {!isConsole && <Rail theme={pageTheme} units={units} />}
        <Suspense fallback={<main className="page" aria-busy="true" />}>
          <Outlet />
        </Suspense>
        {isConsole && <ConsoleTools theme={consoleTheme} />}
        {isSignedOut && (
          <Suspense>
            <SignInForm onDone={signedIn} />
          </Suspense>
        )}
      </div>
      <Notices />
    </ThemeName>
  );
}

const CONSOLE_THEMES = ['sunlight', 'light', 'dark'] as const;

/** What is left of the rail on the console: its theme, and the keys. */
function ConsoleTools({ theme }: { readonly theme: ConsoleTheme }) {
  const dispatch = useDispatch();
  const [isHelpOpen, setHelpOpen] = useState(false);
  useShortcut('shift+?,?', 'Show these shortcuts', () => setHelpOpen(true));
  const next = CONSOLE_THEMES[(CONSOLE_THEMES.indexOf(theme) + 1) % CONSOLE_THEMES.length]!;
  return (
    <footer className="console-tools">
      <button
        type="button"
        onClick={() => void dispatch(setConsoleTheme(next))}
        aria-label={`Theme: ${theme}. Change to ${next}`}
      >
        {{ sunlight: 'Sunlight', light: 'Light', dark: 'Dark' }[theme]}
      </button>
      <button type="button" onClick={() => setHelpOpen(true)} aria-label="Keyboard shortcuts">
        ? Keys
      </button>
      {isHelpOpen && (
        <Suspense>
          <ShortcutHelp onClose={() => setHelpOpen(false)} />
        </Suspense>
      )}
    </footer>
  );
}

function Rail({ theme, units }: { readonly theme: string; readonly units: string }) {
  const dispatch = useDispatch();
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const [isHelpOpen, setHelpOpen] = useState(false);
  useShortcut('shift+?,?', 'Show these shortcuts', () => setHelpOpen(true));
  useShortcut('g>b', 'Go to the bench', () => void navigate('/bench'));
  useShortcut('g>c', 'Go to courses', () => void navigate('/courses'));
  useShortcut('g>t', 'Go to trials', () => void navigate('/trials'));
  useShortcut('g>o', 'Go to ride', () => void navigate('/ride'));
  useShortcut('g>r', 'Go to runs', () => void navigate('/runs'));
  useShortcut('g>f', 'Go to forecast', () => void navigate('/forecast'));
  useShortcut('g>d', 'Go to decide', () => void navigate('/decide'));
  useShortcut('g>l', 'Go to the logbook', () => void navigate('/logbook'));
  useShortcut('g>q', 'Go to quick look', () => void navigate('/quick-look'));
  useShortcut('i', 'Import rides', () => void navigate('/import'));
  const toUnits = units === 'metric' ? 'imperial' : 'metric';
  const toTheme = theme === 'light' ? 'dark' : 'light';
  const place = (to: string, name: string) => (
    <NavLink
      key={to}
      to={to}
      className={({ isActive, isPending }) => {
        if (isActive || (to === '/runs' && ['/import', '/notebook'].includes(pathname))) return 'place here';
        return isPending ? 'place going' : 'place';
      }}
    >
      {name}
      {to === '/logbook' && (
        <Suspense>
          <DueCount />
        </Suspense>
      )}
    </NavLink>
  );
  return (
    <header className="rail">
      <NavLink className="rail-name" to="/trials" aria-label="Ebrix, to the trials">
        Ebrix
      </NavLink>
      <nav aria-label="Places">
        {PLACES.map(({ to, name }) => place(to, name))}
        <hr />
        {place('/quick-look', 'Quick look')}
        {place('/upkeep', 'Upkeep')}
      </nav>
      <div className="rail-foot">
        <button
          type="button"
          onClick={() => void dispatch(setUnits(toUnits))}
          aria-label={`Units: ${units}. Change to ${toUnits}`}
        >
          {units === 'metric' ? 'km · °C' : 'mi · °F'}
        </button>
        <button
          type="button"
          onClick={() => void dispatch(setTheme(toTheme))}
          aria-label={`Theme: ${theme}. Change to ${toTheme}`}
        >
          {theme === 'light' ? 'Light' : 'Dark'}
        </button>
        <button type="button" onClick={() => setHelpOpen(true)} aria-label="Keyboard shortcuts">
          ? Keys
        </button>
      </div>
      {isHelpOpen && (
        <Suspense>
          <ShortcutHelp onClose={() => setHelpOpen(false)} />
        </Suspense>
      )}
    </header>
  );
}
