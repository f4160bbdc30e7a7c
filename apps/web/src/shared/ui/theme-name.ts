import { createContext } from 'react';
import type { ConsoleTheme } from '../preferences/index.js';

/** Under which theme a place is drawn. */
export const ThemeName = createContext<ConsoleTheme>('light');
