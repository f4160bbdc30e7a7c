import { piece } from '../../shared/ui/piece.js';

/** What can be opened for a look, by its name in the address: each of a piece of its own. */
export const looks = {
  log: piece(async () => (await import('./LogLook.js')).LogLook),
  table: piece(async () => (await import('./TableLook.js')).TableLook),
  compare: piece(async () => (await import('./CompareLook.js')).CompareLook),
} as const;
