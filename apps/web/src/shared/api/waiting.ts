/** Under this key the browser holds what could not be sent yet; the shell looks there without loading what sends it. */
export const WAITING_KEY = 'ebrix.logbook.waiting';
/** Told in this window when it changed. */
export const WAITING_CHANGED = 'ebrix-logbook-waiting';
