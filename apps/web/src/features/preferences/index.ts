export {
  preferencesSlice,
  setConsoleTheme,
  setTheme,
  setUnits,
  storePreferences,
  storedPreferences,
  type ConsoleTheme,
  type Preferences,
  type ThemeName,
} from './slice.js';
