import type { Rule } from '../rule.js';
import { AXLE_FLATS, AXLE_KIND, AXLE_WIDTH } from './axle-fit.js';
import { BATTERY_MOUNT, BATTERY_ROOM } from './battery-mount.js';
import { BRAKE_SWITCH } from './brake-levers.js';
import { REAR_ROTOR, ROTOR_SIZE } from './brakes.js';
import { CHARGE_TIME } from './charging.js';
import { CONNECTORS, FUSE, PROTECTION_CURRENT, PROTECTION_PEAK, WIRE_DROP, WIRE_HEAT } from './current.js';
import { DISC_BOLTS, DISC_MOUNT } from './disc-brake.js';
import { CHAIN_TO_FRAME, CHAIN_TO_MOTOR, COG_MOUNT, COG_WIDTH } from './drive-side.js';
import { LAW_DUTIES, LAW_POWER, LAW_SPEED, LAW_THROTTLE } from './law.js';
import { RACK_LOAD, TOTAL_LOAD, TYRE_LOAD } from './loads.js';
import { CHAIN_LINE, SHELL_KIND, SHELL_WIDTH } from './mid-motor.js';
import { JOINER, PACKS_CHEMISTRY, PACKS_DIFFERENCE, PACKS_FULL, PACKS_SERIES, PACK_SHARES } from './parallel-packs.js';
import { CRANK_SENSOR, FOLDING_HINGE, HANDLEBAR_ROOM, RIM_SIZE } from './room-at-bars.js';
import { TORQUE_ARMS } from './torque-arms.js';
import { TRAILER_HITCH, TRAILER_LOAD } from './trailer.js';
import { CHARGER_CHEMISTRY, CHARGER_CURRENT, CHARGER_VOLTAGE, CUT_OFF, NOMINAL_VOLTAGE } from './voltage.js';

/** All rules, in the order in which one works: fit, load, electrics, several packs, law. */
export const RULES: readonly Rule[] = [
  RIM_SIZE,
  AXLE_KIND,
  AXLE_WIDTH,
  AXLE_FLATS,
  TORQUE_ARMS,
  COG_MOUNT,
  COG_WIDTH,
  CHAIN_TO_MOTOR,
  CHAIN_TO_FRAME,
  DISC_MOUNT,
  DISC_BOLTS,
  SHELL_KIND,
  SHELL_WIDTH,
  CHAIN_LINE,
  BATTERY_ROOM,
  BATTERY_MOUNT,
  CRANK_SENSOR,
  HANDLEBAR_ROOM,
  BRAKE_SWITCH,
  FOLDING_HINGE,
  TYRE_LOAD,
  TOTAL_LOAD,
  RACK_LOAD,
  TRAILER_LOAD,
  TRAILER_HITCH,
  ROTOR_SIZE,
  REAR_ROTOR,
  NOMINAL_VOLTAGE,
  PROTECTION_CURRENT,
  PROTECTION_PEAK,
  CONNECTORS,
  WIRE_HEAT,
  WIRE_DROP,
  FUSE,
  CUT_OFF,
  CHARGER_VOLTAGE,
  CHARGER_CHEMISTRY,
  CHARGER_CURRENT,
  CHARGE_TIME,
  PACKS_SERIES,
  PACKS_CHEMISTRY,
  PACKS_FULL,
  PACKS_DIFFERENCE,
  JOINER,
  PACK_SHARES,
  LAW_POWER,
  LAW_SPEED,
  LAW_THROTTLE,
  LAW_DUTIES,
];
