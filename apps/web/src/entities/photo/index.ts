export { Photos, PhotosDrawer } from './Photos.js';
