import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { UnitSystem } from '@ebrix/core/units';

export type ThemeName = 'light' | 'dark';
/** The roadside has one more: black on white, for a screen in the sun. */
export type ConsoleTheme = ThemeName | 'sunlight';
export interface Preferences {
  readonly units: UnitSystem;
  readonly theme: ThemeName;
  readonly consoleTheme: ConsoleTheme;
}

const KEY = 'ebrix.preferences';

/** What this browser chose before; anything odd in the store is ignored. */
export function storedPreferences(storage: Storage, prefersDark: boolean): Preferences {
  const fallback: Preferences = { units: 'metric', theme: prefersDark ? 'dark' : 'light', consoleTheme: 'sunlight' };
  try {
    const stored = JSON.parse(storage.getItem(KEY) ?? '{}') as Partial<Preferences>;
    return {
      units: stored.units === 'imperial' || stored.units === 'metric' ? stored.units : fallback.units,
      theme: stored.theme === 'dark' || stored.theme === 'light' ? stored.theme : fallback.theme,
      consoleTheme:
        stored.consoleTheme === 'dark' || stored.consoleTheme === 'light' ? stored.consoleTheme : fallback.consoleTheme,
    };
  } catch {
    return fallback;
  }
}

export function storePreferences(storage: Storage, preferences: Preferences): void {
  storage.setItem(KEY, JSON.stringify(preferences));
}

export const preferencesSlice = createSlice({
  name: 'preferences',
  initialState: (): Preferences => storedPreferences(localStorage, matchMedia('(prefers-color-scheme: dark)').matches),
  reducers: {
    setUnits: (state, { payload }: PayloadAction<UnitSystem>) => ({ ...state, units: payload }),
    setConsoleTheme: (state, { payload }: PayloadAction<ConsoleTheme>) => ({ ...state, consoleTheme: payload }),
    setTheme: (state, { payload }: PayloadAction<ThemeName>) => ({ ...state, theme: payload }),
  },
});
export const { setConsoleTheme, setUnits, setTheme } = preferencesSlice.actions;
