import type { RideEstimate } from '../planning/index.js';
import { centreOf, type Calibration } from './calibrate.js';
import { warmNodes, type HeatState } from './heat-nodes.js';
import { forecast } from './predict.js';
import type { Scenario } from './scenario.js';
import type { Trust } from './trust.js';

const SAMPLES = 60;
const COOL_ENOUGH_K = 5;
const LONGEST_COOLING_S = 3 * 3600;
const STEP_S = 10;

/**
 * What one ride takes, by a bike's own calibration: time, energy with its standard uncertainty, warmth, and how long it cools standing until
 * the motor is within 5 K of the air. Source: `forecast`, and `warmNodes` without losses.
 */
export function estimateCalibrated(calibration: Calibration, trust: Trust, scenario: Scenario): RideEstimate {
  const { figures, along, notThere } = forecast(calibration, scenario, { trust, samples: SAMPLES });
  const figure = (key: string) => figures.find((one) => one.key === key);
  const energy = figure('energyOut');
  const airC = scenario.airTemperatureC ?? along[0]?.motorTemperatureC ?? 15;
  const hottestC = figure('motorTemperaturePeak')?.value ?? airC;
  const atEndC = along.at(-1)?.motorTemperatureC ?? airC;
  return {
    durationS: figure('time')?.value ?? 0,
    energyWh: energy?.value ?? 0,
    energyUncertaintyWh: energy ? (energy.interval95[1] - energy.interval95[0]) / 3.92 : 0,
    endedBy: notThere.share > 0.5 ? (notThere.by === 'cut-off' ? 'cut-off' : 'time') : 'finish',
    hottestC,
    coolDownS: coolDown(calibration, atEndC, airC),
  };
}

function coolDown(calibration: Calibration, fromC: number, airC: number): number {
  const heat = centreOf(calibration);
  // The body is nearly as warm as the winding by the end of a ride.
  const state: HeatState = { sensorC: fromC, bodyC: airC + 0.85 * (fromC - airC) };
  let timeS = 0;
  while (state.sensorC - airC > COOL_ENOUGH_K && timeS < LONGEST_COOLING_S) {
    warmNodes(state, heat, 0, 0, 0, airC, STEP_S);
    timeS += STEP_S;
  }
  return timeS;
}
