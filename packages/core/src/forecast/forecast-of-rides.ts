import type { Chemistry } from '../battery/index.js';
import { CoreError } from '../errors/index.js';
import { calibrate, type LearntParameter } from './calibrate.js';
import { PARAMETERS, type KnownOfBike } from './parameters.js';
import { forecast, type Forecast } from './predict.js';
import type { RideRecord } from './ride-record.js';
import type { ForecastWarning, Scenario } from './scenario.js';
import { trustOf, type Trust } from './trust.js';

/** As the stateless answer takes it. */
export interface ForecastRequest {
  readonly known: KnownOfBike;
  readonly scenario: Scenario;
  readonly seed?: number;
  readonly samples?: number;
}
export interface ForecastAnswer extends Forecast {
  readonly parameters: readonly (LearntParameter & { readonly label: string; readonly unit: string })[];
  readonly trust: Trust;
}

const CELL_V: readonly [Chemistry, number, number][] = [
  ['lead-acid', 1.9, 2.15],
  ['li-ion-lfp', 3.1, 3.35],
  ['li-ion-nmc', 3.4, 3.85],
];
/** A cell under load or at rest: outside of this the log is of another pack. */
const SEEN_CELL_V = { 'li-ion-nmc': [2.8, 4.35], 'li-ion-lfp': [2.4, 3.75], 'lead-acid': [1.6, 2.6] } as const;

/**
 * One ride foretold from others, kept nowhere: calibration, its own check, forecast.
 * Fails: throws `bad-scenario`, or `contradicting-facts` where what is known of the bike cannot all be so.
 */
export function forecastOfRides(
  records: readonly RideRecord[],
  { known, scenario, seed = 1, samples }: ForecastRequest,
): ForecastAnswer {
  const settled = withChemistry(known);
  refuseContradictions(records, settled, scenario);
  const calibration = calibrate(records, settled);
  const trust = trustOf(records, settled, seed);
  const answer = forecast(calibration, scenario, { trust, seed, ...(samples !== undefined && { samples }) });
  return {
    ...answer,
    warnings: [...missedChecks(trust), ...answer.warnings],
    parameters: calibration.parameters.map((parameter) => ({
      ...parameter,
      label: PARAMETERS[parameter.name].label,
      unit: PARAMETERS[parameter.name].unit,
    })),
    trust,
  };
}

/** Said first: a forecast that missed its own checks. */
export function missedChecks({ isMissed, energy, time, rise }: Trust): ForecastWarning[] {
  if (!isMissed) return [];
  const hits = [energy, time, rise].reduce((sum, figure) => sum + (figure?.hits ?? 0), 0);
  const n = [energy, time, rise].reduce((sum, figure) => sum + (figure?.n ?? 0), 0);
  return [
    {
      code: 'missed-checks',
      message: `Rides of this bike, each foretold from the others, came out inside their span in ${hits} of ${n} cases only. The spans here are made wider for it; do not lean on them.`,
    },
  ];
}

function withChemistry(known: KnownOfBike): KnownOfBike {
  const { chemistry, seriesCells, nominalVoltageV } = known;
  if (chemistry || !seriesCells || !nominalVoltageV) return known;
  const cellV = nominalVoltageV / seriesCells;
  const found = CELL_V.find(([, low, high]) => cellV >= low && cellV <= high);
  if (!found)
    throw new CoreError(
      'contradicting-facts',
      `known: ${nominalVoltageV} V over ${seriesCells} cells in series makes ${cellV.toFixed(2)} V a cell, which no usual cell has. Correct one of the two.`,
    );
  return { ...known, chemistry: found[0] };
}

function refuseContradictions(records: readonly RideRecord[], known: KnownOfBike, scenario: Scenario): void {
  const refuse = (message: string): never => {
    throw new CoreError('contradicting-facts', message);
  };
  const { reserveShare = 0.1, startShare, airTemperatureC } = scenario;
  if (reserveShare >= startShare)
    refuse(
      `scenario: the reserve (${percent(reserveShare)}) is not below the charge at the start (${percent(startShare)}).`,
    );
  if (
    known.temperatureLimitC !== undefined &&
    airTemperatureC !== undefined &&
    known.temperatureLimitC <= airTemperatureC
  )
    refuse(`known: the motor's limit of ${known.temperatureLimitC} °C is not above the air's ${airTemperatureC} °C.`);
  const { seriesCells, chemistry = 'li-ion-nmc', capacityAh } = known;
  for (const { facts, voltageV, currentA } of records) {
    const volts = Array.from(voltageV).filter((value) => value > 1);
    const middle = volts.sort((a, b) => a - b)[volts.length >> 1];
    const [low, high] = SEEN_CELL_V[chemistry];
    if (seriesCells && middle !== undefined && (middle / seriesCells < low || middle / seriesCells > high))
      refuse(
        `${facts.name}: ${middle.toFixed(1)} V in the log, ${(middle / seriesCells).toFixed(2)} V for each of ${seriesCells} cells in series: that is another pack. Correct the number of cells, or leave the ride out.`,
      );
    const usedAh = Array.from(currentA).reduce((sum, value) => sum + (value > 0 ? value : 0), 0) / 3600;
    if (capacityAh !== undefined && usedAh > 1.2 * capacityAh)
      refuse(
        `${facts.name}: ${usedAh.toFixed(1)} Ah were drawn in one ride, more than the ${capacityAh} Ah that the pack is said to hold.`,
      );
  }
}

function percent(share: number): string {
  return `${(100 * share).toFixed(0)} %`;
}
