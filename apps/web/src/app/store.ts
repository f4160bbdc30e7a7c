import { configureStore } from '@reduxjs/toolkit';
import { preferencesSlice, storePreferences } from '../shared/preferences/index.js';
import { baseApi } from '../shared/api/base-api.js';

export function makeStore() {
  const store = configureStore({
    reducer: { preferences: preferencesSlice.reducer, [baseApi.reducerPath]: baseApi.reducer },
    middleware: (defaults) => defaults({ serializableCheck: false, immutableCheck: false }).concat(baseApi.middleware),
  });
  let last = store.getState().preferences;
  store.subscribe(() => {
    const { preferences } = store.getState();
    if (preferences === last) return;
    last = preferences;
    storePreferences(localStorage, preferences);
  });
  return store;
}
export type Store = ReturnType<typeof makeStore>;
export type AppDispatch = Store['dispatch'];
export type RootState = ReturnType<Store['getState']>;
