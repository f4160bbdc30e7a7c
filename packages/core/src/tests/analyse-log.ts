import type { CleanLog } from '../logs/index.js';
import { analyseResponse, type ResponseEvent } from './assist-response/analyse-response.js';
import { analyseLevels, type LevelResult } from './assist-levels/analyse-levels.js';
import { analyseBattery } from './battery/analyse-battery.js';
import { addClimbFigures } from './climb-figures.js';
import { analyseCoasts, type CoastStretch } from './coast-down/analyse-coasts.js';
import type { Figure, Warn } from './figure.js';
import { analyseHeating } from './heating/analyse-heating.js';
import { RANGE_METHOD, type Method } from './method.js';
import { analyseRange } from './range/analyse-range.js';
import type { TestContext } from './test-context.js';
import type { TestKind } from './test-kinds.js';
import { analyseTopSpeed, type SpeedPass } from './top-speed/analyse-top-speed.js';

/** Kinds that are worked out from a log; of the others the ride's own figures are given. */
export const LOG_TESTS = [
  'range',
  'assist-levels',
  'assist-response',
  'top-speed',
  'hill-climb',
  'heating',
  'battery',
  'coast-down',
] as const satisfies readonly TestKind[];
export type LogTest = (typeof LOG_TESTS)[number];

export interface LogAnalysis {
  readonly method: Method;
  /** Figures of this kind of test, first; then those of the ride that it has not itself. */
  readonly figures: readonly Figure[];
  readonly passes: readonly SpeedPass[];
  readonly coasts: readonly CoastStretch[];
  readonly levels: readonly LevelResult[];
  readonly events: readonly ResponseEvent[];
}

const VERSIONS: Partial<Record<TestKind, string>> = {
  battery: '1.0',
  'assist-levels': '1.0',
  'top-speed': '1.0',
  heating: '1.0',
  'coast-down': '1.0',
  'hill-climb': '1.0',
  'assist-response': '1.0',
};

/** Figures of one log, cut to its gates, for one kind of test. */
export function analyseLog(kind: TestKind, log: CleanLog, context: TestContext, warn: Warn): LogAnalysis {
  const method: Method = kind === 'range' ? RANGE_METHOD : { name: kind, version: VERSIONS[kind] ?? '0.1' };
  const ride = analyseRange(log, context);
  const none = { passes: [], coasts: [], levels: [], events: [] };
  const withRide = (own: readonly Figure[]): Figure[] => {
    const known = new Set(own.map(({ key }) => key));
    return [...own, ...ride.figures.filter(({ key }) => !known.has(key))];
  };
  // What a ride lacks for its range (a capacity, say) is no news to another test.
  if (kind === 'range' || kind === 'hill-climb') ride.warnings.forEach(({ code, message }) => warn(code, message));
  switch (kind) {
    case 'battery':
      return { method, figures: withRide(analyseBattery(log, context, warn)), ...none };
    case 'heating':
      return { method, figures: withRide(analyseHeating(log, context, warn)), ...none };
    case 'top-speed': {
      const { passes, figures } = analyseTopSpeed(log, context, warn);
      return { method, figures: withRide(figures), ...none, passes };
    }
    case 'coast-down': {
      const { coasts, figures } = analyseCoasts(log, context, warn);
      return { method, figures: withRide(figures), ...none, coasts };
    }
    case 'assist-levels': {
      const levels = analyseLevels(log, context, warn);
      const own = levels.flatMap(({ steadySpeed, consumption, meanPower }) =>
        [steadySpeed, consumption, meanPower].filter((figure) => figure !== null),
      );
      return { method, figures: withRide(own), ...none, levels };
    }
    case 'assist-response': {
      const { events, figures } = analyseResponse(log, context, warn);
      return { method, figures: withRide(figures), ...none, events };
    }
    case 'hill-climb': {
      const figures = [...ride.figures];
      addClimbFigures(log, context, figures, warn);
      return { method, figures, ...none };
    }
    default:
      return { method, figures: ride.figures, ...none };
  }
}
