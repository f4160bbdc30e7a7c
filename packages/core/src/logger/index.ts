export { ArrivalClock, type Placement, type TimedLine } from './arrival-clock.js';
export { assembleLog, type AssembledLog, type StoredLine } from './assemble-log.js';
export { fitClock, toLoggerTime, toServerTime, type ClockMap, type ClockPair } from './clock-map.js';
export {
  LOGGER_LIMITS,
  parseLoggerLine,
  type BadLineCode,
  type LoggerHello,
  type LoggerLine,
  type LoggerSample,
} from './parse-line.js';
export { SequenceLedger, type NumberRange } from './sequence-ledger.js';
export {
  CyclingPowerReader,
  readBatteryLevel,
  readHeartRate,
  readTemperature,
  SpeedCadenceReader,
  TurnCounter,
  type SensorReading,
} from './sensor-profiles.js';
