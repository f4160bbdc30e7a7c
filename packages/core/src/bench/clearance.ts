import type { Check, Mark } from './check-setup.js';
import { isConverted, isHub, type ConvertedSetup, type SetupFacts } from './facts.js';
import { amount, say, type Sentence } from '../units/index.js';

/** Something that has to be so before anyone rides; passed or waived in writing, never skipped. */
export interface ClearanceItem {
  readonly id: string;
  readonly title: string;
  readonly what: Sentence;
  readonly state: 'open' | 'passed' | 'waived';
  /** The program judges this one itself; it has no mark. */
  readonly isComputed: boolean;
  readonly mark: Mark | null;
}

interface ClearanceText {
  readonly id: string;
  readonly title: string;
  readonly what: Sentence;
}

export const CHECKS_ITEM = 'clearance-checks';
/** A word about rides before now, which is no item: it passes and waives nothing. */
export const PAST_RIDES = 'past-rides';

const BRAKES: ClearanceText = {
  id: 'clearance-brakes',
  title: 'Both brakes',
  what: say`Each brake alone holds the bike when it is pushed hard by hand; no rub, no loose bolt.`,
};
const HELMET: ClearanceText = {
  id: 'clearance-helmet',
  title: 'Helmet',
  what: say`The rider wears one on every test ride.`,
};

function clearanceTexts(setup: SetupFacts): readonly ClearanceText[] {
  return isConverted(setup) ? conversionTexts(setup) : [BRAKES, HELMET];
}

function conversionTexts({ kit, packs }: ConvertedSetup): readonly ClearanceText[] {
  const torque =
    kit.nutTorqueNm === null
      ? say`tightened with a torque wrench to the figure of the kit’s maker`
      : say`tightened with a torque wrench to ${amount(kit.nutTorqueNm, 'Nm')}, the figure of the kit’s maker`;
  return [
    ...(isHub(kit)
      ? [
          {
            id: 'clearance-axle',
            title: 'Torque arm and axle nuts',
            what: [...say`Torque arm fitted on the flats, its end held; axle nuts `, ...torque, ...say`, both sides.`],
          },
        ]
      : [
          {
            id: 'clearance-mid-mount',
            title: 'Motor clamped in the shell',
            what: [
              ...say`Mounting ring and lock nut `,
              ...torque,
              ...say`; the motor does not turn when pushed by hand.`,
            ],
          },
        ]),
    BRAKES,
    {
      id: 'clearance-cut',
      title: 'Brake cuts the motor',
      what:
        kit.brakeSwitches === 'none'
          ? say`This kit has no brake switches: waive it in writing only with a reason, for example “motor stops within half a turn of the cranks”.`
          : say`Wheel off the ground, motor running: each lever stops the motor at once.`,
    },
    {
      id: 'clearance-cables',
      title: 'Cables',
      what: say`Clear of wheel, crank and steering from lock to lock; motor cable enters from below with a drip loop and slack at the hub.`,
    },
    {
      id: 'clearance-battery',
      title: 'Battery locked and held',
      what: say`Locked in its mount and strapped; shaken by hand it does not move${packs.length > 1 ? '; every pack of it' : ''}.`,
    },
    ...(packs.some(({ chemistry }) => chemistry !== 'lead-acid')
      ? [
          {
            id: 'clearance-lithium',
            title: 'Lithium pack',
            what: say`With its BMS and its own charger only; never opened or punctured, never charged unattended or below ${amount(0, '°C')}. Work on mains or inside a pack is for those licensed for it.`,
          },
        ]
      : []),
    HELMET,
    {
      id: 'clearance-first-metres',
      title: 'First metres',
      what: say`Ridden slowly on level private ground: steering, both brakes, motor off and on.`,
    },
  ];
}

/** The gates of a setup with what was written down; the first is shut while a check of the gravest kind fails or is open. */
export function clearanceItems(setup: SetupFacts, checks: readonly Check[], marks: readonly Mark[]): ClearanceItem[] {
  const stops = checks.filter(
    ({ severity, state }) => severity === 'stop' && (state === 'failed' || state === 'open'),
  ).length;
  const likely = checks.filter(({ severity, state }) => severity === 'stop' && state === 'likely').length;
  return [
    {
      id: CHECKS_ITEM,
      title: 'Checks',
      what:
        stops === 0
          ? likely === 0
            ? say`No check that can hurt someone is failed or open.`
            : say`No check that can hurt someone is failed or open; ${likely} ${likely === 1 ? 'passes' : 'pass'} only by what is usual for such parts: measure ${likely === 1 ? 'it' : 'them'}.`
          : say`${stops} ${stops === 1 ? 'check' : 'checks'} that can hurt someone ${stops === 1 ? 'is' : 'are'} failed or open: fix it, fill in what is missing, or waive each in writing.`,
      state: stops === 0 ? 'passed' : 'open',
      isComputed: true,
      mark: null,
    },
    ...clearanceTexts(setup).map((item): ClearanceItem => {
      const mark = marks.find(({ id }) => id === item.id) ?? null;
      return { ...item, state: mark ? mark.kind : 'open', isComputed: false, mark };
    }),
  ];
}

export function openClearance(items: readonly ClearanceItem[]): readonly ClearanceItem[] {
  return items.filter(({ state }) => state === 'open');
}
