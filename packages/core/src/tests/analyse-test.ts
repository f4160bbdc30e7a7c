import type { CleanLog } from '../logs/index.js';
import { figuresByHand } from './by-hand/figures-by-hand.js';
import { analyseLog } from './analyse-log.js';
import { cutForTest } from './cut-log.js';
import type { Figure, FigureWarning } from './figure.js';
import type { Findings } from './findings.js';
import { METHODS, type Method } from './method.js';
import type { TestContext } from './test-context.js';
import type { TestKind } from './test-kinds.js';

export interface TestAnalysis extends Findings {
  readonly method: Method;
  readonly figures: readonly Figure[];
  readonly warnings: readonly FigureWarning[];
}

/** The hand's figures have a version of their own: a ride without a logger has no other. */
export const BY_HAND_METHOD: Method = { name: 'by hand', version: '1.0' };

/**
 * Figures of one run of any kind: of its log between the course's gates, of what was timed and read off by hand, or of both.
 * A figure that both carry is the log's; the hand's own keep their keys. `log` null: a ride without a logger.
 */
export function analyseTest(kind: TestKind, log: CleanLog | null, context: TestContext): TestAnalysis {
  const warnings: FigureWarning[] = [];
  const warn = (code: string, message: string): void => void warnings.push({ code, message });
  if (!log) {
    const figures = figuresByHand(kind, context.hand ?? {}, context, warn);
    return { method: BY_HAND_METHOD, figures, warnings, spans: [], pictures: [] };
  }
  const cut = cutForTest(log, context);
  if (cut.state === 'empty') {
    warn('stretch-empty', 'The chosen stretch holds fewer than five samples of this log: there are no figures of it.');
    return { method: METHODS[kind], figures: [], warnings, spans: [], pictures: [] };
  }
  if (cut.state === 'not-reached')
    warn(
      'gates-not-reached',
      'The ride ends before the finish gate of its course: the figures are those of the whole log.',
    );
  if (cut.state === 'no-distance')
    warn(
      'gates-without-distance',
      'The log has no distance, so it cannot be cut at the gates: the figures are those of the whole log.',
    );
  const { method, figures: logged, spans, pictures } = analyseLog(kind, cut.log, context, warn);
  const figures = [...logged];
  const byHand = context.hand === undefined ? [] : figuresByHand(kind, context.hand, context, () => undefined);
  const known = new Set(figures.map(({ key }) => key));
  figures.push(...byHand.filter(({ key }) => !known.has(key)));
  return { method, figures, warnings, spans, pictures };
}
