import { later } from '../../shared/ui/later.js';

export const Photos = later(async () => (await import('./Photos.js')).Photos);
export const PhotosDrawer = later(async () => (await import('./Photos.js')).PhotosDrawer);
