import type { RideModel } from '../ride-model/index.js';

/** A direct-drive hub on an ordinary bike, for tests. */
export const exampleRideModel: RideModel = {
  pack: { chemistry: 'li-ion-nmc', seriesCells: 13, capacityAh: 14, resistanceOhm: 0.1, cutoffV: 39 },
  motor: {
    kind: 'hub',
    torqueConstant: 1.1,
    windingOhmAt25C: 0.2,
    gearRatio: 1,
    ironLossNm: 0.6,
    heatCapacityJPerK: 1900,
    thermalResistanceKPerW: 0.45,
    hasFreewheel: false,
  },
  controller: {
    batteryCurrentLimitA: 17,
    phaseCurrentLimitA: 35,
    idleW: 4,
    cutBackFromC: 95,
    cutBackToC: 115,
    speedLimitMps: 25 / 3.6,
    taperMps: 0.6,
    responseDelayS: 0.4,
    rampS: 0.5,
    levelShare: 0.6,
    regenerationCurrentA: 3,
  },
  rider: { powerW: 80, massKg: 78, targetSpeedMps: 25 / 3.6, brakingMps2: 1.1 },
  bike: {
    massKg: 27,
    dragAreaM2: 0.62,
    rollingResistanceCoefficient: 0.007,
    wheelCircumferenceM: 2.1,
    rotatingMassFactor: 1.02,
    gears: [1.6, 2.2, 3],
    drivetrainEfficiency: 0.95,
  },
};
