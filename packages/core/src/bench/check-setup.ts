import { isConverted, type SetupFacts } from './facts.js';
import type { CheckGroup, Assessment, Need, Severity } from './rule.js';
import { RULES } from './rules/index.js';
import { say, type Sentence } from '../units/index.js';

/** What a person wrote down about a check or a gate. */
export interface Mark {
  readonly id: string;
  readonly kind: 'passed' | 'waived';
  readonly by: string;
  /** Why it may be so; never empty for a waiver. */
  readonly reason: string;
  /** ISO instant. */
  readonly at: string;
}
/** `likely`: passes with values that are usual for such parts, and asks to be measured. */
export type CheckState = 'failed' | 'open' | 'likely' | 'waived' | 'passed';

export interface Check {
  readonly id: string;
  readonly title: string;
  readonly group: CheckGroup;
  readonly severity: Severity;
  readonly basis: string;
  readonly state: CheckState;
  /** Judged by arithmetic, or left to a person's eye. */
  readonly isManual: boolean;
  readonly arithmetic: Sentence;
  readonly remedy: Sentence;
  readonly needs: readonly Need[];
  /** The waiver or the confirmation by hand, if there is one. */
  readonly mark: Mark | null;
}

/**
 * All checks that apply to a setup, those of the gravest consequence first. A rule that cannot be computed stays open and
 * says what it needs; a waiver never turns a check into a passed one. A bike without a kit has nothing to check here.
 */
export function checkSetup(setup: SetupFacts, marks: readonly Mark[] = []): Check[] {
  if (!isConverted(setup)) return [];
  return RULES.filter((rule) => rule.applies(setup))
    .map(({ id, title, group, severity, basis, assess }): Check => {
      const assessment = assess(setup);
      const mark = marks.find((one) => one.id === id) ?? null;
      const state = stateOf(assessment, mark);
      return {
        id,
        title,
        group,
        severity,
        basis,
        state,
        isManual: assessment.state === 'by-hand',
        arithmetic:
          assessment.state === 'needs'
            ? say`Cannot check: needs ${assessment.needs.map(({ label }) => label).join(', ')}.`
            : assessment.state === 'likely'
              ? [...assessment.arithmetic, ...say`. Taken as usual: ${assessment.taken.join('; ')}.`]
              : assessment.arithmetic,
        remedy:
          assessment.state === 'likely'
            ? say`Likely passes. Measure to be sure: ${assessment.needs.map(({ label }) => label).join(', ')}.`
            : 'remedy' in assessment
              ? assessment.remedy
              : [],
        needs: 'needs' in assessment ? assessment.needs : [],
        // A note about a check that passes by arithmetic has nothing left to say.
        mark: assessment.state === 'passed' ? null : state === 'waived' || state === 'passed' ? mark : null,
      };
    })
    .sort((a, b) => rank(a) - rank(b));
}

function stateOf(assessment: Assessment, mark: Mark | null): CheckState {
  if (assessment.state === 'passed') return 'passed';
  if (mark?.kind === 'waived') return 'waived';
  if (assessment.state === 'by-hand') return mark?.kind === 'passed' ? 'passed' : 'open';
  if (assessment.state === 'likely') return 'likely';
  return assessment.state === 'needs' ? 'open' : 'failed';
}

const SEVERITY_RANK: Readonly<Record<Severity, number>> = { stop: 0, caution: 1, note: 2 };
const STATE_RANK: Readonly<Record<CheckState, number>> = { failed: 0, open: 1, likely: 2, waived: 3, passed: 4 };
function rank({ state, severity }: Check): number {
  const isDone = state === 'waived' || state === 'passed' || state === 'likely';
  return (
    (isDone ? 100 : 0) +
    (isDone ? 10 * STATE_RANK[state] + SEVERITY_RANK[severity] : 10 * SEVERITY_RANK[severity] + STATE_RANK[state])
  );
}

export interface CheckCounts {
  readonly failed: number;
  readonly open: number;
  readonly likely: number;
  readonly waived: number;
  readonly passed: number;
  /** Failed or open ones of severity `stop`: they keep the bike off the road. */
  readonly stops: number;
}
export function countChecks(checks: readonly Check[]): CheckCounts {
  const count = (state: CheckState): number => checks.filter((check) => check.state === state).length;
  return {
    failed: count('failed'),
    open: count('open'),
    likely: count('likely'),
    waived: count('waived'),
    passed: count('passed'),
    stops: checks.filter(({ severity, state }) => severity === 'stop' && (state === 'failed' || state === 'open'))
      .length,
  };
}
