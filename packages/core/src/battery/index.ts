export { CHEMISTRIES, usableEnergy, type Chemistry, type PackKnowledge, type UsableEnergy } from './usable-energy.js';
