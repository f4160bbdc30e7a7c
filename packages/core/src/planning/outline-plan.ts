import { assessOrder, type OrderAssessment } from './assess-order.js';
import { scheduleOuting, type OutingRules, type OutingSchedule, type SlotEstimate } from './schedule-outing.js';

export interface PlannedSetup {
  readonly bikeKey: string;
  readonly packKey: string;
  readonly usableWh: number | null;
  readonly chargeW: number | null;
  /** Energy into the pack per energy from the socket. */
  readonly chargeEfficiency: number;
  readonly electricityPerKWh: number | null;
  readonly currency: string;
  /** What one ride of each test takes. */
  readonly rides: readonly {
    readonly durationS: number;
    readonly energyWh: number;
    readonly energyUncertaintyWh: number;
    readonly distanceM: number;
    readonly coolDownS: number;
  }[];
}
export interface PlannedSlot {
  readonly slotId: string;
  /** From 1. */
  readonly outing: number;
  readonly setup: number;
  readonly test: number;
}
export interface PlanOutline {
  readonly outings: readonly (OutingSchedule & { readonly outing: number })[];
  /** Balance of every test on its own: a range ride is compared with range rides. */
  readonly balance: readonly OrderAssessment[];
  readonly totals: {
    readonly hours: number;
    readonly distanceM: number;
    readonly charges: number;
    readonly energyWh: number;
    /** Null while the price of electricity of a setup is not known. */
    readonly money: { readonly amount: number; readonly currency: string } | null;
  };
}

/** Timetable, balance and cost of a plan as it stands, whoever put it in its order. `canCharge`: a charger comes along. */
export function outlinePlan(request: {
  readonly setups: readonly PlannedSetup[];
  readonly tests: readonly { readonly needsFullPack: boolean }[];
  readonly slots: readonly PlannedSlot[];
  readonly rules: OutingRules;
  readonly canCharge: boolean;
}): PlanOutline {
  const { setups, tests, slots, rules, canCharge } = request;
  const packs = new Map(
    setups.flatMap(({ packKey, usableWh, chargeW }) =>
      usableWh === null ? [] : [[packKey, { usableWh, chargeW: canCharge ? chargeW : null }] as const],
    ),
  );
  const numbers = [...new Set(slots.map(({ outing }) => outing))].sort((a, b) => a - b);
  const outings = numbers.map((outing) => ({
    outing,
    ...scheduleOuting(
      slots.filter((slot) => slot.outing === outing).map((slot) => toEstimate(slot, setups, tests)),
      packs,
      rules,
    ),
  }));
  const balance = tests.map((_, test) =>
    assessOrder(
      numbers
        .map((outing) => slots.filter((slot) => slot.outing === outing && slot.test === test).map(({ setup }) => setup))
        .filter((sequence) => sequence.length > 0),
      setups.length,
    ),
  );
  const costs = slots.map(({ setup, test }) => {
    const { electricityPerKWh, chargeEfficiency, rides } = setups[setup]!;
    return electricityPerKWh === null ? null : (electricityPerKWh * rides[test]!.energyWh) / chargeEfficiency / 1000;
  });
  const currencies = new Set(setups.map(({ currency }) => currency));
  return {
    outings,
    balance,
    totals: {
      hours: outings.reduce((sum, { minutes }) => sum + minutes, 0) / 60,
      distanceM: outings.reduce((sum, { distanceM }) => sum + distanceM, 0),
      charges: outings.reduce((sum, { charges }) => sum + charges, 0),
      energyWh: outings.reduce((sum, { energyWh }) => sum + energyWh, 0),
      money:
        currencies.size === 1 && costs.every((cost) => cost !== null)
          ? { amount: costs.reduce((sum: number, cost) => sum + cost, 0), currency: [...currencies][0]! }
          : null,
    },
  };
}

function toEstimate(
  { slotId, setup, test }: PlannedSlot,
  setups: readonly PlannedSetup[],
  tests: readonly { readonly needsFullPack: boolean }[],
): SlotEstimate {
  const { packKey, bikeKey, rides } = setups[setup]!;
  return { slotId, setup, packKey, bikeKey, needsFullPack: tests[test]!.needsFullPack, ...rides[test]! };
}

/** Work of changing between two setups: another bike is taken from the stand, a pack is swapped, a kit is refitted. */
export function changeWork(
  setups: readonly Pick<PlannedSetup, 'bikeKey' | 'packKey'>[],
): (from: number, to: number) => number {
  return (from, to) => {
    const [a, b] = [setups[from]!, setups[to]!];
    if (a.bikeKey !== b.bikeKey) return 1;
    return REFIT + (a.packKey === b.packKey ? 0 : 1);
  };
}
const REFIT = 5;
