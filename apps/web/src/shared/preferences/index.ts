export {
  type ConsoleTheme,
  type Preferences,
  preferencesSlice,
  setConsoleTheme,
  setTheme,
  setUnits,
  storePreferences,
} from './slice.js';
export { useUnits } from './use-units.js';
