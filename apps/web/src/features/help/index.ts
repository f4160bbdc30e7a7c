export { ShortcutProvider, useShortcut, useShortcutList } from './shortcuts.js';
