export interface OrderAssessment {
  readonly verdict: 'balanced' | 'nearly' | 'unbalanced';
  /** Per setup: runs, how often first of its outing, and mean place among the runs of its outing from 0 (first) to 1 (last). */
  readonly setups: readonly { readonly runs: number; readonly first: number; readonly meanPlace: number }[];
  /** Greatest difference of mean places between two setups, in shares of an outing. */
  readonly placeSpread: number;
  readonly changes: number;
  readonly reasons: readonly OrderReason[];
}
export interface OrderReason {
  readonly code: 'counts-differ' | 'outing-lacks' | 'place-drift' | 'always-first';
  /** Setups it concerns, by index. */
  readonly setups: readonly number[];
  /** Outing from 0, where it is about one. */
  readonly outing?: number;
}

/** Differences of mean place below this let a steady drift over an outing reach the comparison by less than a tenth of itself. */
const NEARLY = 0.1;
const CLEARLY = 0.25;

/**
 * How evenly an order treats the setups, whatever made it: a drift over the outing (wind, pack, rider, warmth)
 * must not be taken for a difference between setups.
 * Shapes: per outing the setups by index in the order ridden.
 */
export function assessOrder(outings: readonly (readonly number[])[], setups: number): OrderAssessment {
  const rows = Array.from({ length: setups }, () => ({ runs: 0, first: 0, places: 0 }));
  let changes = 0;
  const reasons: OrderReason[] = [];
  let ridden = 0;
  outings.forEach((sequence, outing) => {
    if (sequence.length === 0) return;
    ridden++;
    sequence.forEach((setup, k) => {
      const row = rows[setup]!;
      row.runs++;
      row.places += sequence.length === 1 ? 0.5 : k / (sequence.length - 1);
      if (k === 0) row.first++;
      else if (sequence[k - 1] !== setup) changes++;
    });
    const missing = rows.flatMap((_, setup) => (sequence.includes(setup) ? [] : [setup]));
    if (missing.length > 0 && setups > 1) reasons.push({ code: 'outing-lacks', setups: missing, outing });
  });
  const assessment = rows.map(({ runs, first, places }) => ({
    runs,
    first,
    meanPlace: runs > 0 ? places / runs : 0.5,
  }));
  const places = assessment.filter(({ runs }) => runs > 0).map(({ meanPlace }) => meanPlace);
  const placeSpread = places.length > 1 ? Math.max(...places) - Math.min(...places) : 0;
  const counts = assessment.map(({ runs }) => runs);
  if (Math.max(...counts) !== Math.min(...counts))
    reasons.push({
      code: 'counts-differ',
      setups: assessment.flatMap(({ runs }, setup) => (runs < Math.max(...counts) ? [setup] : [])),
    });
  if (placeSpread > NEARLY + 1e-9) {
    const early = assessment.findIndex(({ meanPlace, runs }) => runs > 0 && meanPlace === Math.min(...places));
    const late = assessment.findIndex(({ meanPlace, runs }) => runs > 0 && meanPlace === Math.max(...places));
    reasons.push({ code: 'place-drift', setups: [early, late] });
  }
  const always = assessment.findIndex(({ first }) => first === ridden);
  if (setups > 1 && ridden > 1 && always >= 0) reasons.push({ code: 'always-first', setups: [always] });
  const isUnbalanced =
    placeSpread > CLEARLY + 1e-9 || reasons.some(({ code }) => code === 'counts-differ' || code === 'outing-lacks');
  return {
    verdict: isUnbalanced ? 'unbalanced' : reasons.length > 0 ? 'nearly' : 'balanced',
    setups: assessment,
    placeSpread,
    changes,
    reasons,
  };
}
