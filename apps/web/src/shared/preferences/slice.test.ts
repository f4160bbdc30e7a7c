import { preferencesSlice, setUnits, storedPreferences, storePreferences } from './slice.js';

beforeEach(() => localStorage.clear());

describe('preferences', () => {
  it('start with what the system prefers and come back after a reload', () => {
    expect(storedPreferences(localStorage, true)).toEqual({ units: 'metric', theme: 'dark', consoleTheme: 'sunlight' });
    storePreferences(localStorage, { units: 'imperial', theme: 'light', consoleTheme: 'sunlight' });
    expect(storedPreferences(localStorage, true)).toEqual({
      units: 'imperial',
      theme: 'light',
      consoleTheme: 'sunlight',
    });
  });
  it('do not choke on nonsense in the store', () => {
    localStorage.setItem('ebrix.preferences', '{"units":"cubits","theme":7');
    expect(storedPreferences(localStorage, false)).toEqual({
      units: 'metric',
      theme: 'light',
      consoleTheme: 'sunlight',
    });
    localStorage.setItem('ebrix.preferences', '{"units":"cubits"}');
    expect(storedPreferences(localStorage, false).units).toBe('metric');
  });
  it('change one at a time', () =>
    expect(
      preferencesSlice.reducer({ units: 'metric', theme: 'dark', consoleTheme: 'sunlight' }, setUnits('imperial')),
    ).toEqual({
      units: 'imperial',
      theme: 'dark',
      consoleTheme: 'sunlight',
    }));
});
