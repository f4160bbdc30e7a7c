import type { UnitSystem } from '@ebrix/core/units';
import { useSelector } from 'react-redux';
import type { Preferences } from './slice.js';

export function useUnits(): UnitSystem {
  return useSelector(({ preferences }: { readonly preferences: Preferences }) => preferences.units);
}
