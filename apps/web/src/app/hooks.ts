import { useSelector } from 'react-redux';
import type { UnitSystem } from '@ebrix/core/units';
import type { RootState } from './store.js';

export const useAppSelector = useSelector.withTypes<RootState>();

export function useUnits(): UnitSystem {
  return useAppSelector((state) => state.preferences.units);
}
