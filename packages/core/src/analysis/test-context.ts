import type { Learned, LearnedLevel, PackKnowledge } from '../battery/index.js';
import { airDensityKgPerM3 } from '../physics/index.js';
import type { ChannelName } from '../logs/index.js';
import type { PathPlace } from '../track/index.js';
import type { GivenSpan } from './findings.js';
import type { ManualReadings } from './manual/manual-readings.js';
import type { InstrumentErrors } from './instrument.js';

/** Bars before and after a ride, and what one bar is, as shares of all. */
export interface GaugeKnowledge {
  readonly startShare: number;
  readonly endShare: number;
  readonly stepShare: number;
}
/** What is known about a run beside its log; every field optional. */
export interface TestContext {
  readonly airTemperatureC?: number;
  readonly airPressurePa?: number;
  readonly relativeHumidity?: number;
  /** kg/m³; wins over temperature and pressure. */
  readonly airDensity?: number;
  readonly totalMassKg?: number;
  readonly cdaM2?: number;
  readonly crr?: number;
  readonly rotatingMassFactor?: number;
  /** Head wind in direction +1, m/s. */
  readonly windMps?: number;
  /** How strong the wind was is known, from which side of the course it came is not: `windMps` has no sign then. */
  readonly windIsUnsided?: boolean;
  readonly pack?: PackKnowledge;
  readonly reserveShare?: number;
  readonly ruleOfThumbWhPerKm?: number;
  /** The ride went on until the pack was empty (true) or was stopped early (false). */
  readonly emptied?: boolean;
  /** Meant to start part-way through a charge. */
  readonly isPartWay?: boolean;
  readonly gauge?: GaugeKnowledge;
  /** 1 or −1 of each pass or coast in order, where position cannot tell. */
  readonly directions?: readonly (1 | -1)[];
  /** Nobody wrote down how it was ridden: the log may propose it. */
  readonly proposesRiding?: boolean;
  /** Air about the motor; wins over the log's own and the outing's. */
  readonly ambientC?: number;
  readonly temperatureLimitC?: number;
  /** True circumference ÷ the one set in the display or logger: its speeds and distances are taken times this. */
  readonly wheelFactor?: number;
  readonly instrument?: Partial<InstrumentErrors>;
  /** How late sensors show what happens, s: of the cadence sensor, or by channel; a counted crank shows a start a part of a turn late. */
  readonly sensorDelayS?: number | Partial<Record<ChannelName, number>>;
  /** Part of the log that is this run, s: one log may hold several. */
  readonly logSpan?: { readonly fromS: number; readonly toS: number };
  /** Spans as a tester set them; a kind that is not among them is found by the program. */
  readonly spans?: readonly GivenSpan[];
  /** What this pack's gauge, and this charger, were seen to mean beside a logger. */
  readonly learned?: { readonly gauge?: readonly LearnedLevel[]; readonly chargeEfficiency?: Learned };
  /** Where help has to end, km/h. */
  readonly assistLimitKmh?: number;
  /** Of the packs when full, V. */
  readonly fullVoltageV?: number;
  readonly charging?: Charging;
  /** The course with its gates; the log's distance counts from the course's first point. */
  readonly course?: CourseKnowledge;
  /** How surely the log that is analysed was cut at those gates by its positions, m at each (a standard deviation). */
  readonly gatesByPositionM?: number;
  /** How often the course was ridden, as somebody said. */
  readonly laps?: number;
  /** What was timed and read off without a logger, or beside it. */
  readonly manualReadings?: ManualReadings;
}

/** Density of the air of a run, kg/m³; undefined while its temperature is not known. */
export function airDensityOf(context: TestContext): number | undefined {
  const { airDensity, airTemperatureC, airPressurePa, relativeHumidity } = context;
  if (airDensity !== undefined || airTemperatureC === undefined) return airDensity;
  return airDensityKgPerM3(airTemperatureC, airPressurePa, relativeHumidity);
}

/** What a charge takes and costs. */
export interface Charging {
  readonly currentA?: number;
  /** Socket to pack, 0…1. */
  readonly efficiency?: number;
  readonly pricePerKWh?: number;
  readonly currency?: string;
}

export interface CourseKnowledge {
  readonly lengthM: number;
  /** Where the timed part lies, in the direction ridden. */
  readonly startM: number;
  readonly finishM: number;
  readonly isWhole: boolean;
  readonly isLoop: boolean;
  /** Gates between start and finish; none where they are not known. */
  readonly lapGates?: number;
  /** Where it lies on the earth, in the direction ridden; a log with positions is cut where it met the gates. */
  readonly path?: readonly PathPlace[];
  /** Rise from start to finish gate, by the course's profile. */
  readonly gainM?: number;
  readonly gainUncertaintyM?: number;
}
