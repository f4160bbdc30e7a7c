export { airDensityKgPerM3 } from './air-density.js';
export { dragForceN, gradeForceN, rollingForceN, type RoadLoad } from './resistance-forces.js';
