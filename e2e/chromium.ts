/** Debian's Chromium without a window, which `npm test` installs: it draws the same with a sixth less of the processor's time. */
export const CHROMIUM = '/usr/bin/chromium-headless-shell';
