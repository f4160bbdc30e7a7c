import type { MeasurementWorth } from './worth-measuring.js';
import type { Use, WeighedSetup, WeighedUp } from './weigh-up.js';

/** From this share of the draws on nothing is left to decide. */
const SETTLED = 0.95;
/** Less gain than this from one more run is none, 0…1. */
const WORTH_A_RUN = 0.0005;
/** A bound that is broken in more of the draws than this is told. */
const OFTEN = 0.05;

/**
 * The outcome in one careful sentence: who is best in how many of 100 draws, for what mainly, what bound stands in the way, and what one
 * more run would tell most. Never "is the best": shares of draws, and what they rest on.
 */
export function decisionWords(
  use: Use,
  { setups, noneMeets }: WeighedUp,
  measuring: readonly MeasurementWorth[],
): string {
  const [leader, ...others] = setups;
  if (!leader) return 'Nothing can be weighed yet: of every setup something that counts is not known.';
  if (use.criteria.every(({ weight }) => weight === 0) && use.mustHaves.length === 0)
    return 'Nothing has a weight yet: move one to see which setup leads.';
  if (noneMeets >= SETTLED || leader.isBest === 0) return `No setup keeps every bound${mostBroken(setups)}.`;
  const runnerUp = others.toSorted((a, b) => b.worth.mean - a.worth.mean)[0];
  const reason = runnerUp && mainReason(use, leader, runnerUp);
  const parts = [`${leader.name} in ${inHundred(leader.isBest)} of 100${reason ? `, mainly for ${reason}` : ''}`];
  const [bound] = leader.breaks;
  if (bound && bound.share > OFTEN)
    parts.push(`it misses its bound on ${inSentence(bound.label)} in ${inHundred(bound.share)} of 100`);
  const [next] = measuring;
  const label = next && use.criteria.find(({ key }) => key === next.key)?.label;
  if (leader.isBest < SETTLED && next && label && next.gain > WORTH_A_RUN)
    parts.push(`one more run for ${inSentence(label)} with ${next.name} would tell most`);
  return `${parts.join('; ')}.`;
}

/** A label within a sentence; names further on in it keep their capitals. */
function inSentence(label: string): string {
  return label.charAt(0).toLowerCase() + label.slice(1);
}

function inHundred(share: number): string {
  const whole = Math.round(100 * share);
  return whole === 100 && share < 1 ? 'more than 99' : whole === 0 && share > 0 ? 'less than 1' : String(whole);
}

/** The criterion whose weighted worth sets the leader apart most from the next. */
function mainReason({ criteria }: Use, leader: WeighedSetup, other: WeighedSetup): string | undefined {
  const ahead = criteria
    .map(({ key, label, weight }) => ({ label, by: weight * (leader.parts[key]! - other.parts[key]!) }))
    .sort((a, b) => b.by - a.by)[0];
  return ahead && ahead.by > 0 ? inSentence(ahead.label) : undefined;
}

function mostBroken(setups: readonly WeighedSetup[]): string {
  const shares = new Map<string, number>();
  for (const { breaks } of setups)
    for (const { label, share } of breaks) shares.set(label, (shares.get(label) ?? 0) + share);
  const [most] = [...shares].sort((a, b) => b[1] - a[1]);
  return most ? `; most often broken: ${inSentence(most[0])}` : '';
}
