/** What a kit's box held, how its wires were joined, and what was needed for it; noted around the fitting. */

export const BOX_STATES = ['received', 'missing', 'wrong', 'damaged', 'unused'] as const;
export type BoxState = (typeof BOX_STATES)[number];
export interface BoxLine {
  readonly what: string;
  readonly state: BoxState;
  readonly note: string;
}
export const WIRE_STATES = ['as-came', 'shortened', 'extended', 'cut-off', 'unused'] as const;
export type WireState = (typeof WIRE_STATES)[number];
/** One connection: which wire goes to which, and what was done to it. */
export interface ConnectorLine {
  readonly from: string;
  readonly to: string;
  readonly state: WireState;
  readonly note: string;
}
export const TOOL_SOURCES = ['own', 'borrow', 'buy'] as const;
export type ToolSource = (typeof TOOL_SOURCES)[number];
export interface ToolLine {
  readonly tool: string;
  readonly source: ToolSource;
}
/** An error code the display showed, and when; a step up in voltage is the usual occasion. */
export interface ErrorLine {
  readonly code: string;
  readonly isAfterVoltageStep: boolean;
  readonly meaning: string;
  readonly cure: string;
}
export const PACK_TRIALS = ['not-tried', 'ran', 'cut-out'] as const;
export type PackTrial = (typeof PACK_TRIALS)[number];
/** One pack run by itself on the stand, before it is joined with another. */
export interface PackTried {
  readonly pack: string;
  readonly alone: PackTrial;
  readonly restV: number | null;
  readonly loadV: number | null;
}
/** Fluid in the motor: the hole goes through the cover and no deeper. */
export interface Cooling {
  readonly fluid: string;
  readonly doseMl: number | null;
  readonly coverMm: number | null;
  readonly drillStopMm: number | null;
  readonly sealedWith: string;
}

export interface FittingRecord {
  readonly seller: string;
  /** ISO days. */
  readonly orderedOn: string | null;
  readonly arrivedOn: string | null;
  readonly warrantyMonths: number | null;
  readonly box: readonly BoxLine[];
  readonly guessedHours: number | null;
  /** On `DIFFICULTY_ANCHORS`, 1 to 5: guessed before the first step, rated after the last. */
  readonly guessedDifficulty: number | null;
  readonly ratedDifficulty: number | null;
  readonly tools: readonly ToolLine[];
  readonly connectors: readonly ConnectorLine[];
  readonly cooling: Cooling | null;
  readonly errors: readonly ErrorLine[];
  readonly packsTried: readonly PackTried[];
  readonly ranTogether: boolean | null;
}

const DAY_MS = 86_400_000;

/** Whole days from order to arrival; null where a day is missing or they are in the wrong order. */
export function deliveryDays({ orderedOn, arrivedOn }: Pick<FittingRecord, 'arrivedOn' | 'orderedOn'>): number | null {
  if (orderedOn === null || arrivedOn === null) return null;
  const days = Math.round((Date.parse(arrivedOn) - Date.parse(orderedOn)) / DAY_MS);
  return days >= 0 ? days : null;
}

/** Last day of the warranty, counted from arrival: the same day of a later month, or that month's last where it has none. */
export function warrantyEnds({
  arrivedOn,
  warrantyMonths,
}: Pick<FittingRecord, 'arrivedOn' | 'warrantyMonths'>): string | null {
  if (arrivedOn === null || warrantyMonths === null) return null;
  const [year, month, day] = arrivedOn.split('-').map(Number) as [number, number, number];
  const lastOfMonth = new Date(Date.UTC(year, month + warrantyMonths, 0));
  lastOfMonth.setUTCDate(Math.min(day, lastOfMonth.getUTCDate()));
  return lastOfMonth.toISOString().slice(0, 10);
}

/** What in the box has to be taken up with the seller. */
export function toClaim({ box }: Pick<FittingRecord, 'box'>): BoxLine[] {
  return box.filter(({ state }) => state === 'missing' || state === 'wrong' || state === 'damaged');
}

export interface GuessAgainstClock {
  readonly guessedS: number;
  readonly tookS: number;
  /** Took per guessed. */
  readonly factor: number;
}
/** How long it took against the guess; null until the last step is done. */
export function guessAgainstClock(
  { guessedHours }: Pick<FittingRecord, 'guessedHours'>,
  steps: readonly { readonly isDone: boolean; readonly elapsedS: number }[],
): GuessAgainstClock | null {
  if (guessedHours === null || steps.length === 0 || steps.some(({ isDone }) => !isDone)) return null;
  const tookS = steps.reduce((sum, { elapsedS }) => sum + elapsedS, 0);
  return tookS > 0 ? { guessedS: 3600 * guessedHours, tookS, factor: tookS / (3600 * guessedHours) } : null;
}

/** Metal left to go through, so that the drill breaks out and stops before the winding behind the cover. */
export const DRILL_BEYOND_MM = 1.5;
export type DrillStop = 'unknown' | 'right' | 'too-short' | 'too-deep';
/** The drill's stop against the cover it goes through. */
export function drillStop({ coverMm, drillStopMm }: Pick<Cooling, 'coverMm' | 'drillStopMm'>): DrillStop {
  if (coverMm === null || drillStopMm === null) return 'unknown';
  if (drillStopMm <= coverMm) return 'too-short';
  return drillStopMm > coverMm + DRILL_BEYOND_MM ? 'too-deep' : 'right';
}

/** Packs that have to run by themselves before they are joined; none where there is only one. */
export function packsToTry(
  packs: readonly { readonly name: string }[],
  { packsTried }: Pick<FittingRecord, 'packsTried'>,
): string[] {
  if (packs.length < 2) return [];
  const left = packsTried.filter(({ alone }) => alone === 'ran').map(({ pack }) => pack);
  return packs.flatMap(({ name }) => {
    // Two packs of one name are two packs.
    const at = left.indexOf(name);
    if (at < 0) return [name];
    left.splice(at, 1);
    return [];
  });
}
