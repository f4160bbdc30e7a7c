export { CELSIUS_ZERO_K, EARTH_MEAN_RADIUS_M, JOULES_PER_WATT_HOUR, STANDARD_GRAVITY_MPS2 } from './constants.js';
export { convertUnit, convertUnitDifference, displayUnit, type UnitSystem } from './display-units.js';
export { type Joules, type Metres, type Quantity, type WattHoursPerKm } from './quantity.js';
export { fromSi, isUnitName, toSi, UNITS, type Dimension, type UnitDefinition, type UnitName } from './unit-table.js';
export { amount, hasFiniteAmounts, plainText, say, type Amount, type Sentence } from './sentence.js';
