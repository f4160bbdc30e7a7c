/** A planned ride with what it is expected to take. */
export interface SlotEstimate {
  readonly slotId: string;
  readonly setup: number;
  /** Rides that share a battery share its charge. */
  readonly packKey: string;
  /** Rides that share a bike cannot be prepared side by side. */
  readonly bikeKey: string;
  readonly durationS: number;
  readonly energyWh: number;
  /** Standard uncertainty. */
  readonly energyUncertaintyWh: number;
  readonly distanceM: number;
  readonly needsFullPack: boolean;
  /** From the end of a ride until the same motor may start again as cold as it should, s. */
  readonly coolDownS: number;
}
export interface PackBudget {
  readonly usableWh: number;
  /** Into the pack, W; null: there is no charger on the way. */
  readonly chargeW: number | null;
}
export interface OutingRules {
  /** Minutes after midnight. */
  readonly startMin: number;
  readonly hoursAvailable: number;
  readonly darkFromMin: number;
  readonly changeSetupMin: number;
  readonly betweenRunsMin: number;
  readonly restAfterChargeMin: number;
  /** Share of the usable energy that must stay in the pack. */
  readonly reserveShare: number;
}
export type OutingStep = (
  | { readonly kind: 'ride'; readonly slotId: string; readonly packLeftWh: number; readonly packLeftShare: number }
  | { readonly kind: 'charge'; readonly packKey: string; readonly energyWh: number }
  | { readonly kind: 'rest'; readonly packKey: string }
  | { readonly kind: 'change'; readonly toSetup: number }
  | { readonly kind: 'cool'; readonly setup: number }
  | { readonly kind: 'between' }
) & { readonly startMin: number; readonly minutes: number };
/** Of each kind of step on its own: `Omit` of a union would keep only what all kinds share. */
type WithoutStart<S> = S extends OutingStep ? Omit<S, 'startMin'> : never;
export type OutingProblem =
  | { readonly code: 'below-reserve'; readonly slotId: string; readonly leftShare: number }
  | { readonly code: 'empties-pack'; readonly slotId: string; readonly missingWh: number }
  | { readonly code: 'not-full'; readonly slotId: string }
  | { readonly code: 'too-long'; readonly minutes: number }
  | { readonly code: 'after-dark'; readonly slotId: string };
export interface OutingSchedule {
  readonly steps: readonly OutingStep[];
  readonly endMin: number;
  readonly minutes: number;
  readonly ridingMin: number;
  readonly distanceM: number;
  readonly energyWh: number;
  readonly charges: number;
  readonly problems: readonly OutingProblem[];
}

/** One-sided 95 %: the budget is kept in 19 of 20 outings. */
const CAREFUL = 1.645;
const FULL_SHARE = 0.98;

/**
 * When each run of an outing starts, and whether battery, warmth, time and daylight allow it.
 *
 * Every pack starts full and rested (charged the evening before: one charge each). A ride that needs a full pack, or
 * would take it below the reserve, is preceded by charging and rest where there is a charger; where there is none, it
 * stays in the plan and the problem is named. Energy is budgeted with its one-sided 95 % bound.
 */
export function scheduleOuting(
  slots: readonly SlotEstimate[],
  packs: ReadonlyMap<string, PackBudget>,
  rules: OutingRules,
): OutingSchedule {
  const steps: OutingStep[] = [];
  const problems: OutingProblem[] = [];
  const usedWh = new Map<string, number>();
  const coolFromMin = new Map<number, number>();
  let now = rules.startMin;
  let ridingMin = 0;
  let onBike: number | undefined;
  let charges = new Set(slots.map(({ packKey }) => packKey)).size;
  const take = (step: WithoutStart<OutingStep>): void => {
    steps.push({ ...step, startMin: now });
    now += step.minutes;
  };
  slots.forEach((slot, k) => {
    const pack = packs.get(slot.packKey);
    const need = slot.energyWh + CAREFUL * slot.energyUncertaintyWh;
    if (k > 0 && rules.betweenRunsMin > 0) take({ kind: 'between', minutes: rules.betweenRunsMin });
    if (onBike !== undefined && onBike !== slot.setup && rules.changeSetupMin > 0)
      take({ kind: 'change', toSetup: slot.setup, minutes: rules.changeSetupMin });
    onBike = slot.setup;
    const used = usedWh.get(slot.packKey) ?? 0;
    if (pack) {
      const reserve = rules.reserveShare * pack.usableWh;
      const isFull = used <= (1 - FULL_SHARE) * pack.usableWh;
      const isShort = pack.usableWh - used - need < reserve;
      if ((slot.needsFullPack && !isFull) || (isShort && !isFull)) {
        if (pack.chargeW !== null && pack.chargeW > 0) {
          take({ kind: 'charge', packKey: slot.packKey, energyWh: used, minutes: (60 * used) / pack.chargeW });
          if (rules.restAfterChargeMin > 0)
            take({ kind: 'rest', packKey: slot.packKey, minutes: rules.restAfterChargeMin });
          usedWh.set(slot.packKey, 0);
          charges++;
        } else if (slot.needsFullPack) problems.push({ code: 'not-full', slotId: slot.slotId });
      }
    }
    const coolAt = coolFromMin.get(slot.setup) ?? -Infinity;
    if (coolAt > now) take({ kind: 'cool', setup: slot.setup, minutes: coolAt - now });
    const before = usedWh.get(slot.packKey) ?? 0;
    const after = before + slot.energyWh;
    if (pack) {
      const careful = pack.usableWh - before - need;
      if (careful < 0) problems.push({ code: 'empties-pack', slotId: slot.slotId, missingWh: -careful });
      else if (careful < rules.reserveShare * pack.usableWh)
        problems.push({ code: 'below-reserve', slotId: slot.slotId, leftShare: careful / pack.usableWh });
    }
    usedWh.set(slot.packKey, after);
    const minutes = slot.durationS / 60;
    const packLeftWh = pack ? Math.max(0, pack.usableWh - after) : 0;
    take({
      kind: 'ride',
      slotId: slot.slotId,
      packLeftWh,
      packLeftShare: pack ? packLeftWh / pack.usableWh : 0,
      minutes,
    });
    ridingMin += minutes;
    if (slot.coolDownS > 0) coolFromMin.set(slot.setup, now + slot.coolDownS / 60);
    if (now > rules.darkFromMin) problems.push({ code: 'after-dark', slotId: slot.slotId });
  });
  const minutes = now - rules.startMin;
  if (minutes > rules.hoursAvailable * 60 + 1e-9) problems.push({ code: 'too-long', minutes });
  return {
    steps,
    endMin: now,
    minutes,
    ridingMin,
    distanceM: slots.reduce((sum, { distanceM }) => sum + distanceM, 0),
    energyWh: slots.reduce((sum, { energyWh }) => sum + energyWh, 0),
    charges: slots.length === 0 ? 0 : charges,
    problems,
  };
}
