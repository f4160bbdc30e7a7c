import { piece } from '../../shared/ui/piece.js';

export const { Part: Photos } = piece(async () => (await import('./Photos.js')).Photos);
export const { Part: PhotosDrawer } = piece(async () => (await import('./Photos.js')).PhotosDrawer);
