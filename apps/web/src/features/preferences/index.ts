export {
  preferencesSlice,
  setTheme,
  setUnits,
  storePreferences,
  storedPreferences,
  type Preferences,
  type ThemeName,
} from './slice.js';
