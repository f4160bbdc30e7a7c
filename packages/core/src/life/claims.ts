import { addMonths } from './days.js';

type AssessedLife = 'cannot-tell' | 'met' | 'not-met';
export interface LifeClaim {
  readonly words: string;
  readonly verdict: AssessedLife;
}

/** A claimed number of full cycles against what the pack's readings foretell: from where to where it falls to its lowest share. */
export function assessCycleClaim(
  claimed: number,
  now: number | null,
  ageing: { readonly cyclesInterval95: readonly [number, number | null]; readonly verdict: 'fades' | 'open' } | null,
): LifeClaim {
  if (now === null || ageing === null)
    return { verdict: 'cannot-tell', words: 'needs two battery tests or rides to cut-off, some time apart' };
  const [low, high] = ageing.cyclesInterval95;
  const from = now + low;
  const to = high === null ? null : now + high;
  const verdict =
    to !== null && to < claimed ? 'not-met' : from > claimed && ageing.verdict === 'fades' ? 'met' : 'cannot-tell';
  const span = to === null ? `${Math.round(from)} or more` : `${Math.round(from)} to ${Math.round(to)}`;
  return { verdict, words: `${Math.round(now)} full cycles so far; as it fades, it is at its end after ${span}` };
}

/** A warranty of so many months against the faults that came within it: told, not judged. */
export function warrantyWords(
  months: number,
  fittedOn: string | null,
  faults: readonly { readonly day: string }[],
  today: string,
): string {
  if (fittedOn === null) return 'needs the day on which it was fitted';
  const ends = addMonths(fittedOn, months);
  const within = faults.filter(({ day }) => day <= ends).length;
  return `${within === 0 ? 'no fault' : within === 1 ? 'one fault' : `${within} faults`} within it so far; it ${ends < today ? 'ended' : 'ends'} on ${ends}`;
}
