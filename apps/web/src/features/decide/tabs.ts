import { piece } from '../../shared/ui/piece.js';

/** The parts of the decision, by their names in its address. */
export const tabs = {
  uses: piece(async () => (await import('./UsesTab.js')).UsesTab),
  money: piece(async () => (await import('./MoneyTab.js')).MoneyTab),
  reports: piece(async () => (await import('./ReportsTab.js')).ReportsTab),
  data: piece(async () => (await import('./HandOverTab.js')).HandOverTab),
};
