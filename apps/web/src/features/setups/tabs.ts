import { piece } from '../../shared/ui/piece.js';

/** Parts of a setup that are more than a page, by their names in its address. */
export const tabs = {
  checks: piece(async () => (await import('./ChecksTab.js')).ChecksTab),
  fitting: piece(async () => (await import('../fitting/FittingTab.js')).default),
  box: piece(async () => (await import('../fitting/RecordTab.js')).default),
  stand: piece(async () => (await import('../stand/StandTab.js')).default),
  clearance: piece(async () => (await import('./ClearanceTab.js')).ClearanceTab),
  experience: piece(async () => (await import('./ExperienceTab.js')).default),
  life: piece(async () => (await import('../../entities/life/LifeView.js')).LifeView),
};
