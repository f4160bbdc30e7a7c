import type { Figure, FigureWarning, Findings, Method, Taught, TestContext, TestKind } from '@ebrix/core/analysis';
import type { Calibration, Trust } from '@ebrix/core/forecast';
import type { ChannelName, CleaningReport } from '@ebrix/core/logs';
import type { RideConditions, RideCourse, RideModel } from '@ebrix/core/ride-model';
import type { Encoding } from '../database/columns.js';

export interface EncodedChannel {
  readonly name: ChannelName | 'time';
  readonly encoding: Encoding;
  readonly sampleCount: number;
  readonly samples: Uint8Array;
  readonly pyramid: Uint8Array;
}

/** What a calibration came to, and the rides that could not be read after all. */
export interface LearnedBike {
  readonly calibration: Calibration;
  readonly trust: Trust;
}

export interface EstimateRequest {
  readonly model: RideModel;
  readonly course: RideCourse;
  readonly conditions: RideConditions;
  readonly laps: number;
}

export interface Analysis extends Findings {
  readonly method: Method;
  readonly figures: readonly Figure[];
  readonly warnings: readonly FigureWarning[];
  readonly taught?: Taught;
}

export interface ReadRide {
  /** One for each run that the file holds. */
  readonly analyses: readonly Analysis[];
  readonly format: 'csv' | 'gpx' | 'record';
  readonly hasClock: boolean;
  readonly startEpochS: number | null;
  readonly durationS: number;
  readonly sampleCount: number;
  readonly cleaning: CleaningReport;
  readonly channels: readonly EncodedChannel[];
}

export interface RunToAnalyse {
  readonly testKind: TestKind;
  readonly context: TestContext;
}

export type Outcome<T> =
  | { readonly ok: true; readonly value: T }
  | { readonly ok: false; readonly code: string; readonly message: string };
