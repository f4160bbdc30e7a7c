import {
  type CleaningReportDto,
  openRiding,
  partSchemas,
  setupFitSchema,
  setupSettingsSchema,
  type Course,
  type RevisionDetail,
  type RunSummary,
  type Setup,
  type SetupDetail,
  type Trial,
  type TrialListItem,
  type Verdict,
} from '@ebrix/contract';

export const exampleId = (n: number): string => `01900000-0000-7000-8000-${String(n).padStart(12, '0')}`;
const stored = (n: number) => ({
  id: exampleId(n),
  version: 1,
  updatedAt: '2026-04-07T08:00:00.000Z',
  archivedAt: null,
});

export const exampleSetups: Setup[] = ['Corvane R2', 'Dromel D5'].map((name, k) => ({
  ...stored(10 + k),
  name,
  notes: '',
  trials: [],
  clearance: { failed: 1, open: 2, likely: 0, waived: 0, passed: 30, stops: 1, openClearance: 3, items: 9 },
  revisions: [
    {
      id: exampleId(20 + k),
      number: 1,
      bike: { id: exampleId(1), name: 'Round bike 3' },
      kit: { id: exampleId(2), name },
      packs: [{ id: exampleId(3), name: 'Fennock 52' }],
      settings: setupSettingsSchema.parse({ assistLevel: '3', speedLimitKmh: 25 }),
      change: 'As first fitted',
      why: '',
      createdAt: '2026-04-01T08:00:00.000Z',
      runCount: 3,
    },
  ],
}));

/** A revision of a hub kit with what its parts are known by; everything else is unknown. */
export function exampleDetail(
  change: Partial<RevisionDetail['parts']> = {},
  more: Partial<RevisionDetail> = {},
): SetupDetail {
  const [setup] = exampleSetups;
  const revision = setup!.revisions[0]!;
  return {
    ...setup!,
    revisions: [
      {
        ...revision,
        parts: {
          bike: partSchemas.bikes.parse({ ...stored(1), name: 'Round bike 3', massKg: 23.5, wheelCircumferenceM: 2.1 }),
          kit: partSchemas.kits.parse({
            ...stored(2),
            name: 'Corvane R2',
            motorKind: 'rear-hub-geared',
            ratedPowerW: 250,
            currentLimitA: 20,
            massKg: 4.1,
          }),
          packs: [
            partSchemas.packs.parse({
              ...stored(3),
              name: 'Fennock 52',
              chemistry: 'li-ion-nmc',
              nominalVoltageV: 48,
              capacityAh: 14,
              protectionContinuousA: 20,
              massKg: 3.7,
            }),
          ],
          charger: null,
          addOns: [],
          limits: null,
          ...change,
        },
        fit: setupFitSchema.parse({ riderMassKg: 78 }),
        marks: [],
        ...more,
      },
    ],
  };
}

export const exampleCourse: Course = {
  ...stored(30),
  name: 'Level round',
  kind: 'loop',
  lengthM: 9200,
  surface: 'asphalt',
  notes: '',
  runCount: 6,
  track: null,
  cautions: '',
  permission: '',
  windExposure: null,
  isBothWays: false,
  guessedGradeDeg: null,
  climbM: null,
  climbUncertaintyM: null,
  gates: [],
};

const interval = (estimate: number, half: number) => ({ estimate, lower: estimate - half, upper: estimate + half });

export const exampleTrial: Trial = {
  ...stored(40),
  question: 'Which kit for the level round?',
  decidingFigure: 'netConsumption',
  smallestDifference: { kind: 'relative', value: 0.05 },
  course: { id: exampleCourse.id, name: exampleCourse.name },
  setups: exampleSetups.map(({ id: setupId, name, revisions }, k) => ({
    letter: k === 0 ? 'A' : 'B',
    revisionId: revisions[0]!.id,
    setupId,
    name,
    revisionNumber: 1,
    riding: openRiding,
    countedRuns: 3,
    excludedRuns: k,
    openClearance: 0,
  })),
  notes: 'Same rider.',
  furtherFigures: [],
  heldEqual: ['same rider'],
  recorded: [],
  heldRiding: openRiding,
  meantToDiffer: [],
  countsSimulated: false,
  design: null,
};
export const exampleListItem: TrialListItem = {
  ...exampleTrial,
  headline: 'Corvane R2 uses 13 % less energy per km than Dromel D5, and it matters.',
  leading: {
    a: 'Corvane R2',
    b: 'Dromel D5',
    difference: { ...interval(-0.9, 0.25), standardError: 0.08, degreesOfFreedom: 4, t: -11 },
    ratio: { ...interval(0.87, 0.04), logStandardError: 0.013, degreesOfFreedom: 4, pValue: 0.001 },
    pValue: 0.001,
    verdict: 'better-and-matters',
    sentence: 'Corvane R2 uses 13 % less energy per km than Dromel D5, and it matters.',
  },
  isSoFar: false,
  verdictKinds: ['better-and-matters'],
};

export const exampleRun = (n: number, net: number): RunSummary => ({
  id: exampleId(50 + n),
  version: 1,
  setup: {
    id: exampleSetups[0]!.id,
    name: 'Corvane R2',
    revisionId: exampleSetups[0]!.revisions[0]!.id,
    revisionNumber: 1,
  },
  course: { id: exampleCourse.id, name: exampleCourse.name },
  outing: { id: exampleId(60), title: 'Morning 1', date: '2026-04-07' },
  testKind: 'range',
  riding: openRiding,
  isSimulated: false,
  fileName: `ride-${n}.csv`,
  startedAt: null,
  durationS: 1600,
  exclusion: null,
  figures: { netConsumption: { value: net, standardUncertainty: 0.05, unit: 'Wh/km' } },
  headline: {
    key: 'netConsumption',
    label: 'Net consumption',
    value: net,
    standardUncertainty: 0.05,
    unit: 'Wh/km',
  },
  warningCount: 0,
  wheelFactor: null,
  deletedAt: null,
});

export const exampleVerdict: Verdict = {
  figure: { key: 'netConsumption', label: 'Net consumption', unit: 'Wh/km', better: 'less' },
  points: [5.5, 5.6, 5.7].flatMap((value, k) => [
    {
      runId: exampleId(70 + k),
      letter: 'A' as const,
      value,
      standardUncertainty: 0.05,
      isExcluded: false,
      apart: null,
      outing: `Morning ${k + 1}`,
    },
    {
      runId: exampleId(80 + k),
      letter: 'B' as const,
      value: value + 0.9,
      standardUncertainty: 0.05,
      isExcluded: k === 2,
      apart: null,
      outing: `Morning ${k + 1}`,
    },
  ]),
  comparison: {
    setups: exampleSetups.map(({ name }, k) => ({
      name,
      n: 3,
      mean: 5.6 + 0.9 * k,
      standardDeviation: 0.1,
      coefficientOfVariation: 0.1 / (5.6 + 0.9 * k),
      median: 5.6 + 0.9 * k,
      medianAbsoluteDeviation: 0.1,
      quartiles: [5.5 + 0.9 * k, 5.6 + 0.9 * k, 5.7 + 0.9 * k] as const,
      intervalOfMean: { lower: 5.4 + 0.9 * k, upper: 5.8 + 0.9 * k },
    })),
    better: 'less',
    design: 'independent',
    method: {
      name: "Welch's t",
      reason:
        "The two setups' runs may scatter differently, so Welch's t interval is used: it does not assume equal spread.",
    },
    pairs: [
      {
        a: 'Corvane R2',
        b: 'Dromel D5',
        difference: { ...interval(-0.9, 0.25), standardError: 0.08, degreesOfFreedom: 4, t: -11 },
        ratio: { ...interval(0.86, 0.04), logStandardError: 0.013, degreesOfFreedom: 4, pValue: 0.001 },
        pValue: 0.001,
        verdict: 'better-and-matters',
        sentence: 'Corvane R2 uses 14 % less energy per km than Dromel D5, and it matters.',
      },
    ],
    sentences: ['Corvane R2 uses 14 % less energy per km than Dromel D5, and it matters.'],
    smallestDifference: { kind: 'relative', value: 0.05 },
    seed: 1,
    notes: ['Only 3 runs of Corvane R2: the intervals are wide for that reason.'],
    twoSetups: { welch: { difference: -0.9, lower: -1.15, upper: -0.65, t: -11, df: 4, p: 0.0004 } },
  },
  reason: null,
  headline: 'Corvane R2 uses 14 % less energy per km than Dromel D5, and it matters.',
  withExcluded: { pairs: [], sentences: ['Cannot tell yet.'], isSame: false },
  runsWithoutFigure: 1,
  ranges: [
    { letter: 'A', nextRide: { median: 64, lower: 59, upper: 68, runs: 3 }, reason: null, riddenToEmpty: null },
    { letter: 'B', nextRide: null, reason: 'needs two runs with a range; the pack must be known', riddenToEmpty: null },
  ],
  open: null,
  confounded: [],
  look: { number: 1, of: null, countedRuns: 6, isLast: true, level: 0.05 },
  adjusted: [],
  atReference: null,
  further: [],
};

/** Of a log in which nothing was wrong. */
export const exampleCleaning: CleaningReportDto = {
  samplesRead: 1600,
  samplesKept: 1600,
  droppedTimes: 0,
  unreadable: [],
  raggedRecords: 0,
  ignoredColumns: [],
  medianStepS: 1,
  gapLimitS: 5,
  gaps: [],
  spikes: [],
  positionJumps: 0,
  stuck: [],
};

/** Of a list of runs that ends where it begins. */
export const ONE_PAGE = { next: null, previous: null };
