import type { CleanLog } from '../logs/index.js';
import { analyseLevels, type LevelResult } from './assist-levels/analyse-levels.js';
import { levelCharts, levelSpans } from './assist-levels/level-charts.js';
import { analyseResponse, startSpans } from './assist-response/analyse-response.js';
import { type ResponseEvent } from './assist-response/find-starts.js';
import { analyseBattery } from './battery/analyse-battery.js';
import { analyseCoasts, coastSpans, type CoastSpan } from './coast-down/analyse-coasts.js';
import type { Figure, Warn } from './figure.js';
import { findLoads, findSoak } from './find-loads.js';
import { findStops, type Findings, type Span } from './findings.js';
import { analyseHeating } from './heating/analyse-heating.js';
import { addClimbFigures } from './hill-climb/climb-figures.js';
import { climbCharts } from './hill-climb/climb-charts.js';
import { logFlags } from './quality/log-flags.js';
import { qualityFlags } from './quality/quality-flags.js';
import { analyseRange } from './range/analyse-range.js';
import { rangeCharts } from './range/range-charts.js';
import { analyseStand } from './stand/analyse-stand.js';
import type { TestContext } from './test-context.js';
import { METHODS, TEST_KINDS, type Method, type TestKind } from './test-kinds.js';
import { analyseTopSpeed } from './top-speed/analyse-top-speed.js';
import type { SpeedPass } from './top-speed/measure-passes.js';
import { passSpans } from './top-speed/top-speed-charts.js';

export interface LogAnalysis extends Findings {
  readonly method: Method;
  /** Figures of this kind of test, first; then those of the ride that it has not itself. */
  readonly figures: readonly Figure[];
  readonly passes: readonly SpeedPass[];
  readonly coasts: readonly CoastSpan[];
  readonly levels: readonly LevelResult[];
  readonly events: readonly ResponseEvent[];
}

type KindAnalysis = Pick<LogAnalysis, 'figures' | 'charts' | 'spans'> &
  Partial<Pick<LogAnalysis, 'coasts' | 'events' | 'levels' | 'passes'>>;

/**
 * Figures, spans and charts of one log, cut to its gates, for one kind of test. What is refused, and what a careful
 * tester would raise about the run, goes to `warn`.
 */
export function analyseLog(kind: TestKind, log: CleanLog, context: TestContext, warn: Warn): LogAnalysis {
  const ride = analyseRange(log, context);
  // What a ride lacks for its range (a capacity, say) is no news to another test.
  const rideWarnings =
    kind === 'range'
      ? ride.warnings
      : kind === 'hill-climb'
        ? ride.warnings.filter(({ code }) => !RANGE_ONLY_WARNINGS.has(code))
        : logFlags(log);
  rideWarnings.forEach(({ code, message, said }) => warn(code, said ?? message));
  const own = ANALYSERS[kind](log, context, warn, ride.figures);
  const known = new Set(own.figures.map(({ key }) => key));
  const rest = ride.figures.filter(
    ({ key }) => !known.has(key) && INHERITED_FIGURES[TEST_KINDS[kind].alsoShows].has(key),
  );
  const figures = [...own.figures, ...rest];
  qualityFlags(kind, log, context, figures).forEach(({ code, message, said }) => warn(code, said ?? message));
  return {
    method: METHODS[kind],
    passes: [],
    coasts: [],
    levels: [],
    events: [],
    ...own,
    figures,
    spans: [...own.spans, ...(kind === 'range' || kind === 'hill-climb' ? findStops(log) : [])],
  };
}

const RANGE_ONLY_WARNINGS: ReadonlySet<string> = new Set([
  'no-capacity',
  'no-net-consumption',
  'stopped-early',
  'gauge-too-coarse',
  'large-correction',
]);

/** What any ride has, whatever it was ridden for. */
const FIGURES_OF_ANY_RIDE: ReadonlySet<string> = new Set([
  'distance',
  'movingTime',
  'meanMovingSpeed',
  'meanRiderPower',
  'climbed',
  'energyOut',
  'energyRegenerated',
  'chargeUsed',
]);
/** A consumption up a climb says something, a range does not; a wheel on the stand goes nowhere. */
const INHERITED_FIGURES: Readonly<Record<(typeof TEST_KINDS)[TestKind]['alsoShows'], ReadonlySet<string>>> = {
  ride: FIGURES_OF_ANY_RIDE,
  'ride and consumption': new Set([...FIGURES_OF_ANY_RIDE, 'netConsumption', 'grossConsumption']),
  nothing: new Set(),
};

type Analyser = (log: CleanLog, context: TestContext, warn: Warn, ride: readonly Figure[]) => KindAnalysis;

const ANALYSERS: Readonly<Record<TestKind, Analyser>> = {
  range: (log, _context, _warn, ride) => ({
    figures: ride,
    spans: whole(log, 'Ride'),
    charts: rangeCharts(log, ride),
  }),
  'hill-climb': (log, context, warn, ride) => {
    const figures = [...ride];
    addClimbFigures(log, context, figures, warn);
    return { figures: ownFirst(figures, ride), spans: whole(log, 'Climb'), charts: climbCharts(log) };
  },
  'assist-levels': (log, context, warn) => {
    const levels = analyseLevels(log, context, warn);
    return {
      figures: levels.flatMap(({ steadySpeed, consumption, meanPower }) =>
        [steadySpeed, consumption, meanPower].filter((figure) => figure !== null),
      ),
      levels,
      spans: levelSpans(levels),
      charts: levelCharts(levels),
    };
  },
  'assist-response': (log, context, warn) => {
    const { events, charts, figures } = analyseResponse(log, context, warn);
    return { figures, events, charts, spans: startSpans(events) };
  },
  'top-speed': (log, context, warn) => {
    const { passes, charts, figures } = analyseTopSpeed(log, context, warn);
    return { figures, passes, charts, spans: passSpans(passes) };
  },
  'coast-down': (log, context, warn) => {
    const { coasts, charts, figures } = analyseCoasts(log, context, warn);
    return { figures, coasts, charts, spans: coastSpans(coasts) };
  },
  heating: (log, context, warn) => {
    const { figures, charts, fit } = analyseHeating(log, context, warn);
    return { figures, charts, spans: [...fitSpan(fit), ...findSoak(log)] };
  },
  battery: (log, context, warn) => {
    const { figures, charts, fit } = analyseBattery(log, context, warn);
    return { figures, charts, spans: [...fitSpan(fit), ...findLoads(log)] };
  },
  stand: (log, context, warn) => analyseStand(log, context, warn),
};

/** The climb's own figures before those of any ride; a figure of the ride that the climb knows better is the climb's. */
function ownFirst(figures: readonly Figure[], ride: readonly Figure[]): Figure[] {
  const ofRide = new Set(ride.map(({ key }) => key));
  const kept = INHERITED_FIGURES[TEST_KINDS['hill-climb'].alsoShows];
  return [
    ...figures.filter(({ key }) => !ofRide.has(key)),
    ...figures.filter(({ key }) => ofRide.has(key) && kept.has(key)),
  ];
}

function whole({ timeS, hasClock }: CleanLog, label: string): Span[] {
  return hasClock ? [{ kind: 'ride', fromS: timeS[0]!, toS: timeS.at(-1)!, label }] : [];
}

function fitSpan(fit: { readonly fromS: number; readonly toS: number } | null): Span[] {
  return fit ? [{ kind: 'fit', ...fit, label: 'Fitted' }] : [];
}
