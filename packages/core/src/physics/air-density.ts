import { CELSIUS_ZERO_K } from '../units/index.js';

/** Specific gas constants of dry air and water vapour, J/(kg·K). Source: CIPM-2007 molar masses with R = 8.314 462 618. */
const DRY_AIR_GAS_CONSTANT = 287.055;
const WATER_VAPOUR_GAS_CONSTANT = 461.52;

/** Where nobody read them: the standard atmosphere at sea level, and air neither dry nor damp. */
const USUAL_PRESSURE_PA = 101_325;
const USUAL_HUMIDITY = 0.5;

/**
 * Density of moist air in kg/m³.
 * Units: °C, Pa, relative humidity as a fraction 0–1.
 * Source: ideal-gas mixture; Magnus saturation pressure with the coefficients of Alduchov & Eskridge (1996), J. Appl. Meteorol. 35.
 */
export function airDensityKgPerM3(
  temperatureC: number,
  pressurePa: number = USUAL_PRESSURE_PA,
  relativeHumidity: number = USUAL_HUMIDITY,
): number {
  const saturationPa = 610.94 * Math.exp((17.625 * temperatureC) / (temperatureC + 243.04));
  const vapourPa = relativeHumidity * saturationPa;
  const kelvin = temperatureC + CELSIUS_ZERO_K;
  return (pressurePa - vapourPa) / (DRY_AIR_GAS_CONSTANT * kelvin) + vapourPa / (WATER_VAPOUR_GAS_CONSTANT * kelvin);
}
