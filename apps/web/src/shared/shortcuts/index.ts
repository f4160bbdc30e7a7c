export { ShortcutProvider, useShortcut } from './shortcuts.js';
