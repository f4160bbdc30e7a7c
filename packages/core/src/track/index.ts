export { lapPath, type LappedPath } from './lap-path.js';
export { PathFollower } from './path-follower.js';
export type { PathPlace, Place } from './place.js';
