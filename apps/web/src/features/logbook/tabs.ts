import { piece } from '../../shared/ui/piece.js';

/** The parts of the logbook, by their names in its address. */
export const tabs = {
  entries: piece(async () => (await import('./EntriesTab.js')).EntriesTab),
  due: piece(async () => (await import('./DueTab.js')).DueTab),
  faults: piece(async () => (await import('./FaultsTab.js')).FaultsTab),
  conversions: piece(async () => (await import('./ConversionsTab.js')).ConversionsTab),
  intervals: piece(async () => (await import('./IntervalsTab.js')).IntervalsTab),
  bikes: piece(async () => (await import('../../entities/life/LifeView.js')).LifeView),
};
