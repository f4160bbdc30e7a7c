import type { RatingInput, RidingDto, TrialFields } from '@ebrix/contract';
import type { CourseKey, SetupKey } from './scenario.js';

/** A side of a trial: a setup, and how it is ridden where that is compared. */
export type DemoArm = SetupKey | { readonly setup: SetupKey; readonly riding: Partial<RidingDto> };
export const TRIALS: readonly (Omit<TrialFields, 'arms' | 'courseId'> & {
  course: CourseKey;
  setups: readonly DemoArm[];
})[] = [
  {
    question: 'Do puncture-proof tyres cost energy?',
    decidingFigure: 'netConsumption',
    smallestDifference: { kind: 'relative', value: 0.04 },
    course: 'level',
    setups: ['corvane', 'tyres'],
    // The tyres are on a bike of their own.
    meantToDiffer: ['bike'],
    heldRiding: { way: 'steady', level: '3' },
    furtherFigures: ['meanMovingSpeed'],
    notes: 'Two runs are left out, with their reasons; the verdict is shown with and without them.',
  },
  {
    question: 'Mid motor or rear hub on Chapel Hill?',
    decidingFigure: 'netConsumption',
    smallestDifference: { kind: 'relative', value: 0.05 },
    course: 'hill',
    setups: ['corvane', 'quillon'],
    heldRiding: { way: 'steady', level: '3' },
    // The mid motor is the faster one up the hill: that is part of what it is.
    meantToDiffer: ['meanSpeed'],
    notes: 'Only two outings so far, one of them in rain.',
    heldEqual: ['same bike', 'same rider', 'level 3', 'tyres at 4.5 bar'],
    recorded: ['air temperature', 'wind', 'start voltage'],
  },
  {
    question: 'Which kit for the level round?',
    decidingFigure: 'netConsumption',
    smallestDifference: { kind: 'relative', value: 0.05 },
    course: 'level',
    setups: ['corvane', 'dromel', 'quillon'],
    heldRiding: { way: 'steady', level: '3' },
    furtherFigures: ['meanMovingSpeed', 'rangeWithReserve'],
    notes: 'Same bike, same rider, order turned round from outing to outing.',
  },
  {
    question: 'Direct hub or mid motor along the quay?',
    decidingFigure: 'netConsumption',
    smallestDifference: { kind: 'relative', value: 0.03 },
    course: 'quay',
    setups: ['dromel', 'quillon'],
    notes:
      'The direct hub had most of the calm morning, the mid motor most of the windy one: the plain means say the opposite.',
  },
  {
    question: 'What does level 3 cost against level 2?',
    decidingFigure: 'netConsumption',
    smallestDifference: { kind: 'relative', value: 0.05 },
    course: 'level',
    setups: [
      { setup: 'corvane', riding: { level: '2' } },
      { setup: 'corvane', riding: { level: '3' } },
    ],
    heldRiding: { way: 'steady' },
    // A level that helps less is slower: that goes with it on purpose.
    meantToDiffer: ['meanSpeed'],
    furtherFigures: ['meanMovingSpeed'],
    notes: 'One setup, ridden at two levels in turn.',
  },
  {
    question: 'How much energy does pedalling save?',
    decidingFigure: 'netConsumption',
    smallestDifference: { kind: 'relative', value: 0.05 },
    course: 'level',
    setups: [
      { setup: 'quillon', riding: { way: 'throttle' } },
      { setup: 'quillon', riding: { way: 'steady' } },
    ],
    meantToDiffer: ['meanSpeed'],
    notes: 'The same bike on throttle alone and with steady pedalling.',
  },
  {
    question: 'Which kit up Windmill road?',
    decidingFigure: 'netConsumption',
    smallestDifference: { kind: 'relative', value: 0.05 },
    course: 'mill',
    setups: ['corvane', 'quillon'],
    notes: 'Each kit had a day of its own, a week apart.',
  },
];

export const PLANNED_TRIAL = 'Mid motor or rear hub on Chapel Hill?';
export const PLAN = {
  runsPerSetup: 6,
  outings: 3,
  startsAt: '08:30',
  darkFrom: '20:15',
  hoursPerOuting: 6,
  hasChargerOut: true,
  changeSetupMin: 25,
  airTemperatureC: 14,
  seed: 7,
} as const;

/** What the riders of the round said, of whom Ottoline was not told which hub she rode. */
export const RATINGS: readonly (Omit<RatingInput, 'revisionId'> & { setup: SetupKey })[] = [
  rated('corvane', 'Bram Tellow', 'before', { noise: 3, pull: 4, runOn: 3 }),
  rated('corvane', 'Bram Tellow', 'after', {
    noise: 3,
    smoothness: 4,
    pull: 3,
    runOn: 3,
    reach: 4,
    braking: 4,
    comfort: 4,
  }),
  rated('corvane', 'Ottoline Vask', 'after', { noise: 2, smoothness: 4, pull: 3, runOn: 3, stability: 4, comfort: 4 }),
  rated('dromel', 'Bram Tellow', 'after', {
    noise: 5,
    smoothness: 3,
    pull: 2,
    runOn: 2,
    reach: 3,
    braking: 5,
    comfort: 3,
  }),
  rated('dromel', 'Ottoline Vask', 'after', { noise: 5, smoothness: 2, pull: 2, runOn: 2, stability: 3, comfort: 3 }),
  rated('quillon', 'Bram Tellow', 'before', { noise: 4, pull: 4, runOn: 3 }),
  rated('quillon', 'Bram Tellow', 'after', {
    noise: 3,
    smoothness: 5,
    pull: 5,
    runOn: 4,
    reach: 4,
    braking: 4,
    comfort: 4,
  }),
  rated('quillon', 'Ottoline Vask', 'after', { noise: 5, smoothness: 5, pull: 4, runOn: 4, stability: 4, comfort: 5 }),
];

function rated(
  setup: SetupKey,
  rider: string,
  phase: RatingInput['phase'],
  values: RatingInput['values'],
): Omit<RatingInput, 'revisionId'> & { setup: SetupKey } {
  const isBlind = rider === 'Ottoline Vask' && setup !== 'quillon';
  return { setup, rider, phase, isBlind, day: phase === 'before' ? '2026-04-07' : '2026-04-23', values, note: '' };
}
