import { piece } from '../../shared/ui/piece.js';

/** The parts of the upkeep, by their names in its address. */
export const tabs = {
  people: piece(async () => (await import('./PeopleTab.js')).PeopleTab),
  backups: piece(async () => (await import('./BackupsTab.js')).BackupsTab),
  deleted: piece(async () => (await import('./DeletedTab.js')).DeletedTab),
  history: piece(async () => (await import('./HistoryTab.js')).HistoryTab),
};
