import type { FigureParts } from '../figure.js';

/** Adds a figure of the whole climb. */
export type Put = (parts: Omit<FigureParts, 'fromS' | 'n' | 'toS'>) => void;
