export { CHEMISTRIES, usableEnergy, type Chemistry, type PackKnowledge, type UsableEnergy } from './usable-energy.js';
export { learnFrom, learnGauge, type GaugeReading, type Learned, type LearnedLevel } from './learned-readings.js';
export { CHARGE_TIME_LIMIT, chargeSlowness } from './charge-curve.js';
export { chargeAtRest, energyShareAt, openCircuitVoltage } from './open-circuit-voltage.js';
