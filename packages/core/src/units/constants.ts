/** (2a + b)/3 of the WGS 84 ellipsoid, rounded to 0.1 m. */
export const EARTH_MEAN_RADIUS_M = 6_371_008.8;
/** Standard acceleration of free fall, m/s² (3rd CGPM, 1901). */
export const STANDARD_GRAVITY_MPS2 = 9.80665;
/** Exact: 1 W·h = 3600 J. */
export const JOULES_PER_WATT_HOUR = 3600;
/** Exact: the international mile in metres. */
export const METRES_PER_MILE = 1609.344;
/** Exact: the international foot in metres. */
export const METRES_PER_FOOT = 0.3048;
/** Exact: the international avoirdupois pound in kilograms. */
export const KILOGRAMS_PER_POUND = 0.453_592_37;
/** One pound-force (0.453 592 37 kg × 9.806 65 m/s²) on a square inch (0.0254 m)². */
export const PASCALS_PER_PSI = (0.453_592_37 * 9.80665) / 0.0254 ** 2;
/** Exact: knots are nautical miles (1852 m) per hour. */
export const MPS_PER_KNOT = 1852 / 3600;
/** 0 °C on the kelvin scale. */
export const CELSIUS_ZERO_K = 273.15;
