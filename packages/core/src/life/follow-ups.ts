import { median } from '../numeric/index.js';
import { addDays, daysBetween } from './days.js';

/** When riders are asked again: after so many kilometres or days, whichever comes first where both are named. */
export interface FollowUpStage {
  readonly id: string;
  readonly label: string;
  readonly afterKm: number | null;
  readonly afterDays: number | null;
}
export const USUAL_STAGES: readonly FollowUpStage[] = [
  { id: 'first-100-km', label: 'After the first 100 km', afterKm: 100, afterDays: null },
  { id: 'half-year', label: 'After half a year', afterKm: null, afterDays: 182 },
  { id: 'year', label: 'After a year', afterKm: null, afterDays: 365 },
];

/** Questions of a follow-up, on five steps: 1 the worse, 5 the better. */
export const FOLLOW_UP_SCALES = {
  comfort: { label: 'Comfort', anchors: ['glad to get off', 'good for a morning', 'good all day'] },
  noise: { label: 'Noise', anchors: ['turns heads', 'the rider hears it', 'not heard'] },
  trust: {
    label: 'Trust that it brings one home',
    anchors: ['takes the bus in bad weather', 'mostly', 'never thinks about it'],
  },
  again: { label: 'Would fit it again', anchors: ['no', 'with changes', 'at once'] },
} as const satisfies Record<string, { label: string; anchors: readonly [string, string, string] }>;
export type FollowUpKey = keyof typeof FOLLOW_UP_SCALES;
export const FOLLOW_UP_KEYS = Object.keys(FOLLOW_UP_SCALES) as FollowUpKey[];

export interface FollowUpDue {
  readonly stage: FollowUpStage;
  readonly state: 'answered' | 'due' | 'later';
  /** Day on which it falls due, at this bike's pace where kilometres count; null where that is not known. */
  readonly day: string | null;
}

/** Which questions are due, answered or to come. Units: km since fitting. */
export function followUpsDue(
  stages: readonly FollowUpStage[],
  fitted: { readonly day: string; readonly km: number },
  answered: ReadonlySet<string>,
  {
    today,
    kmNow,
    kmPerWeek,
  }: { readonly today: string; readonly kmNow: number; readonly kmPerWeek: number | undefined },
): FollowUpDue[] {
  return stages.map((stage) => {
    const kmLeft = stage.afterKm === null ? null : stage.afterKm - (kmNow - fitted.km);
    const byKm =
      kmLeft === null
        ? null
        : kmLeft <= 0
          ? today
          : kmPerWeek !== undefined && kmPerWeek > 0.5
            ? addDays(today, Math.min(3650, (kmLeft / kmPerWeek) * 7))
            : null;
    const byDays = stage.afterDays === null ? null : addDays(fitted.day, stage.afterDays);
    const day = [byKm, byDays].filter((one) => one !== null).sort()[0] ?? null;
    const isDue = (kmLeft !== null && kmLeft <= 0) || (byDays !== null && daysBetween(today, byDays) <= 0);
    return { stage, day, state: answered.has(stage.id) ? 'answered' : isDue ? 'due' : 'later' };
  });
}

/** What one rider said of one bike, once. */
export interface FollowUpAnswer {
  readonly kit: string;
  readonly bike: string;
  readonly stage: string;
  readonly answers: Readonly<Partial<Record<FollowUpKey, number>>>;
}
export interface SaidOfKit {
  readonly kit: string;
  readonly stage: string;
  readonly key: FollowUpKey;
  /** Bikes whose riders answered; each counts once, with its last word. */
  readonly bikes: number;
  readonly median: number;
  readonly lowest: number;
  readonly highest: number;
}

/**
 * What riders say of each kit over all its conversions, stage by stage and scale by scale: the middle, the lowest and the highest step. Words are
 * ordered, not measured: no mean, no interval. Answers in the order of time.
 */
export function saidOfKits(answers: readonly FollowUpAnswer[]): SaidOfKit[] {
  const groups = new Map<string, Map<string, FollowUpAnswer>>();
  for (const answer of answers) {
    const key = JSON.stringify([answer.kit, answer.stage]);
    const own = groups.get(key) ?? new Map<string, FollowUpAnswer>();
    const before = own.get(answer.bike);
    own.set(answer.bike, before ? { ...answer, answers: { ...before.answers, ...answer.answers } } : answer);
    groups.set(key, own);
  }
  return [...groups].flatMap(([key, own]) => {
    const [kit, stage] = JSON.parse(key) as [string, string];
    return FOLLOW_UP_KEYS.flatMap((scale): SaidOfKit[] => {
      const steps = [...own.values()].flatMap(({ answers: said }) => said[scale] ?? []).sort((a, b) => a - b);
      if (steps.length === 0) return [];
      return [
        {
          kit,
          stage,
          key: scale,
          bikes: steps.length,
          median: median(steps)!,
          lowest: steps[0]!,
          highest: steps.at(-1)!,
        },
      ];
    });
  });
}
