import {
  afterRideSchema,
  planInputSchema,
  preparationSchema,
  type Plan,
  type PlanBasis,
  type Ride,
  type RideMark,
} from '@ebrix/contract';
import { exampleCourse, exampleTrial } from './examples.js';

const id = (n: number): string => `00000000-0000-7000-8000-${String(n).padStart(12, '0')}`;

export const exampleMark = (n: number, kind: RideMark['kind'], more: Partial<RideMark> = {}): RideMark => ({
  id: id(900 + n),
  kind,
  at: `2026-04-07T08:00:${String(n).padStart(2, '0')}.000Z`,
  elapsedS: n,
  direction: null,
  place: null,
  value: null,
  text: '',
  isUndone: false,
  ...more,
});

export const exampleRide = (more: Partial<Ride> = {}): Ride => ({
  id: id(800),
  version: 1,
  state: 'preparing',
  createdAt: '2026-04-07T08:00:00.000Z',
  slot: null,
  setup: { id: id(1), name: 'Corvane R2', revisionId: exampleTrial.setups[0]!.revisionId, revisionNumber: 1 },
  openClearance: 0,
  course: {
    id: exampleCourse.id,
    name: 'Level round',
    lengthM: 9200,
    startM: 0,
    finishM: 9200,
    cautions: '',
    temperatureStopsM: [],
  },
  testKind: 'range',
  direction: 1,
  level: '3',
  effort: 'steady',
  laps: 1,
  outing: null,
  rider: null,
  logger: null,
  preparation: preparationSchema.parse({}),
  after: afterRideSchema.parse({}),
  fullVoltageV: 42,
  limits: { motorC: 95, controllerC: 75, batteryC: 50, packV: 30 },
  marks: [],
  startedAt: null,
  finishedAt: null,
  reason: '',
  session: null,
  runId: null,
  conversion: null,
  ...more,
});

const ride = {
  durationS: 1500,
  energyWh: 60,
  energyUncertaintyWh: 4,
  distanceM: 9200,
  coolDownS: 0,
  hottestC: 40,
  source: 'model' as const,
  runs: 0,
  assumed: ['torque of the motor'],
  endsEmpty: false,
};
export const exampleBasis: PlanBasis = {
  repeatability: {
    relativeSd: 0.04,
    degreesOfFreedom: 0,
    runs: 0,
    setups: 0,
    source: 'usual',
    usual: { low: 0.02, middle: 0.04, high: 0.08 },
  },
  typicalValue: 6,
  setups: exampleTrial.setups.map(({ letter, revisionId }, k) => ({
    letter,
    revisionId,
    bikeKey: 'Round bike 3',
    packKey: `pack ${k}`,
    usableWh: 450,
    chargeW: 80,
    chargeEfficiency: 0.86,
    electricityPerKWh: 0.3,
    currency: 'EUR',
    rides: [ride],
  })),
};
const [a, b] = exampleTrial.setups.map(({ revisionId }) => revisionId) as [string, string];
export const examplePlan: Plan = {
  trialId: exampleTrial.id,
  version: 1,
  input: planInputSchema.parse({
    runsPerSetup: 2,
    outings: 1,
    tests: [{ testKind: 'range', courseId: exampleCourse.id }],
  }),
  slots: [a, b, b, a].map((revisionId, k) => ({
    id: id(850 + k),
    outing: 1,
    position: k + 1,
    revisionId,
    letter: revisionId === a ? 'A' : 'B',
    test: 0,
    direction: 1,
    state: 'planned',
    rideId: null,
    runId: null,
    isOutOfOrder: false,
  })),
  changes: [{ at: '2026-04-06T08:00:00.000Z', what: 'Planned: 4 runs in 1 outing.', why: '' }],
};
