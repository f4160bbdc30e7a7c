import { preferencesSlice, setUnits, storedPreferences, storePreferences } from './index.js';

beforeEach(() => localStorage.clear());

describe('preferences', () => {
  it('start with what the system prefers and come back after a reload', () => {
    expect(storedPreferences(localStorage, true)).toEqual({ units: 'metric', theme: 'dark' });
    storePreferences(localStorage, { units: 'imperial', theme: 'light' });
    expect(storedPreferences(localStorage, true)).toEqual({ units: 'imperial', theme: 'light' });
  });
  it('do not choke on nonsense in the store', () => {
    localStorage.setItem('ebrix.preferences', '{"units":"cubits","theme":7');
    expect(storedPreferences(localStorage, false)).toEqual({ units: 'metric', theme: 'light' });
    localStorage.setItem('ebrix.preferences', '{"units":"cubits"}');
    expect(storedPreferences(localStorage, false).units).toBe('metric');
  });
  it('change one at a time', () =>
    expect(preferencesSlice.reducer({ units: 'metric', theme: 'dark' }, setUnits('imperial'))).toEqual({
      units: 'imperial',
      theme: 'dark',
    }));
});
