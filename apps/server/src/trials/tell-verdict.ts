import { DECIDING_FIGURES, type Comparison, type DecidingFigureKey, type Look } from '@ebrix/core/compare';
import type { Verdict } from '@ebrix/contract';
import type { PreparedFigure } from './prepare-verdict.js';
import type { TrialRun } from './trial-run.repository.js';

/** One comparison, or why there is none. */
export type Compared =
  | { readonly ok: true; readonly value: Comparison }
  | { readonly ok: false; readonly message: string };

/** Why a setup may have too few runs although it was ridden. */
export function apartText(apart: PreparedFigure['sorted']['apart']): string {
  const reasons = new Map<string, number>();
  for (const { text } of apart.values()) reasons.set(text, (reasons.get(text) ?? 0) + 1);
  const list = [...reasons].map(([text, count]) => `${count} ${count === 1 ? 'run' : 'runs'}: ${text}`);
  return list.length === 0 ? '' : ` Apart, and not counted: ${list.join('; ')}.`;
}

export function apartOf({ sorted }: PreparedFigure, run: TrialRun): Verdict['points'][number]['apart'] {
  const reason = sorted.apart.get(run.id);
  return reason ? { kind: reason.kind, text: reason.text } : null;
}

export function otherAnswer(label: string, outcome: Compared): Omit<NonNullable<Verdict['atReference']>, 'moved'> {
  return outcome.ok
    ? { label, design: outcome.value.design, pairs: outcome.value.pairs, reason: null }
    : { label, design: null, pairs: [], reason: outcome.message };
}

/** A condition that is one for all of an outing says nothing within it: no answer is none to show. */
export function saysMore(outcome: Compared): boolean {
  return outcome.ok && outcome.value.pairs.some(({ difference }) => difference !== undefined);
}

export function slopesDifferP(outcome: Compared): number | null {
  return (outcome.ok && outcome.value.model?.slopesDiffer?.p) || null;
}

export function figureWords(key: DecidingFigureKey): Verdict['figure'] {
  const { label, unit, better } = DECIDING_FIGURES[key];
  return { key, label, unit, better };
}

export function lookOf({ number, plannedRuns, isLast, level }: Look, countedRuns: number): Verdict['look'] {
  return { number, of: plannedRuns ?? null, countedRuns, isLast, level };
}

export function headlineOf({ sentences }: Comparison): string {
  return sentences[0] ?? '';
}

export function sameVerdicts(a: Comparison, b: Comparison): boolean {
  return a.pairs.every(({ verdict, difference }, k) => {
    const other = b.pairs[k];
    return verdict === other?.verdict && isAbove(difference) === isAbove(other.difference);
  });
}

export function isAbove(difference: Comparison['pairs'][number]['difference']): boolean | undefined {
  return difference && difference.estimate > 0;
}
