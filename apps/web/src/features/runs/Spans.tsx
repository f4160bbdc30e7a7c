import { SETTABLE_SPANS } from '@ebrix/core/analysis';
import { Button } from 'antd';
import type { GivenSpanDto, RunDetail, SpanDto } from '@ebrix/contract';
import { errorMessage } from '../../shared/api/base-api.js';
import { formatClock } from '../../shared/format/format-quantity.js';
import { useUndoCorrectionMutation, type TimeSpan } from '../../entities/run/index.js';

/** All spans of a run after one of them was changed: what is stored is always the whole list. */
export function spansWith(spans: readonly SpanDto[], index: number, change: Partial<TimeSpan> | null): GivenSpanDto[] {
  return spans.flatMap(({ label: _label, ...span }, k) => {
    if (!SETTABLE_SPANS.has(span.kind)) return [];
    if (k !== index) return [span];
    return change === null ? [] : [{ ...span, ...change }];
  });
}

export function moveText({ label, fromS, toS }: SpanDto, edges: TimeSpan): string {
  const moved = [
    ...(edges.fromS === fromS ? [] : [`start moved from ${fromS.toFixed(1)} to ${edges.fromS.toFixed(1)} s`]),
    ...(edges.toS === toS ? [] : [`end moved from ${toS.toFixed(1)} to ${edges.toS.toFixed(1)} s`]),
  ];
  return `${label}: ${moved.join(', ')}`;
}

interface Props {
  readonly run: RunDetail;
  readonly shown: TimeSpan | undefined;
  readonly onShowSpan: (logSpan: TimeSpan | undefined) => void;
  readonly onCorrect: (spans: GivenSpanDto[], what: string) => void;
  /** Why the last correction was not taken. */
  readonly error: unknown;
}

/** The spans that the figures rest on, as a list: to look at, to take out, to turn round; and what was corrected. */
export function Spans({ run, shown, onShowSpan, onCorrect: save, error: refused }: Props) {
  const [undo, undoing] = useUndoCorrectionMutation();
  const settable = run.spans.flatMap((span, index) => (SETTABLE_SPANS.has(span.kind) ? [{ span, index }] : []));
  const standing = run.corrections.find(({ undoneAt }) => undoneAt === null);
  if (settable.length === 0 && run.corrections.length === 0) return null;
  const error = refused ?? undoing.error;
  const first = settable[0]?.span;
  const canAdd = first !== undefined && ['coast', 'level', 'pass', 'start'].includes(first.kind);
  return (
    <section aria-label="Parts of the log used" className="mt-12">
      <div className="actions items-baseline">
        <h2>Parts of the log used</h2>
        {standing && (
          <Button
            size="small"
            loading={undoing.isLoading}
            onClick={() => void undo({ id: run.id, version: run.version })}
          >
            Undo: {standing.what}
          </Button>
        )}
        {canAdd && shown && (
          <Button
            size="small"
            onClick={() =>
              save(
                [
                  ...spansWith(run.spans, -1, {}),
                  {
                    kind: first.kind,
                    ...shown,
                    ...(first.level !== undefined && { level: first.level }),
                    ...(first.direction && { direction: first.direction }),
                  },
                ],
                `Added ${formatClock(shown.fromS)} to ${formatClock(shown.toS)}`,
              )
            }
          >
            Add the part shown
          </Button>
        )}
        {/* Last, so that no button moves from under a hand when it goes. */}
        {run.isRecalculating && (
          <span role="status" className="quiet">
            Recalculating …
          </span>
        )}
      </div>
      {error !== undefined && (
        <p className="problem" role="alert">
          {errorMessage(error)}
        </p>
      )}
      <p className="quiet">Drag the edges above the chart, or move them with the arrow keys and Enter.</p>
      <table className="rows max-w-620">
        <caption className="unseen">Parts of the log used</caption>
        <tbody>
          {settable.map(({ span, index }) => (
            <tr key={index}>
              <td>
                <button
                  type="button"
                  className="figure-button font-inherit"

                  onClick={() => onShowSpan({ fromS: Math.max(0, span.fromS - 2), toS: span.toS + 2 })}
                >
                  {span.label}
                </button>
              </td>
              <td className="number">
                {span.fromS.toFixed(1)} to {span.toS.toFixed(1)} s
              </td>
              <td className="align-right">
                {span.direction && (
                  <Button
                    size="small"
                    type="text"
                    onClick={() =>
                      save(
                        spansWith(run.spans, index, { direction: -span.direction! } as Partial<TimeSpan>),
                        `${span.label}: direction reversed`,
                      )
                    }
                  >
                    Other direction
                  </Button>
                )}
                {settable.length > 1 && (
                  <Button
                    size="small"
                    type="text"
                    aria-label={`Remove ${span.label}`}
                    onClick={() => save(spansWith(run.spans, index, null), `${span.label} removed`)}
                  >
                    Remove
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {run.corrections.length > 0 && (
        <details className="mt-6">
          <summary className="quiet">Corrections ({run.corrections.length})</summary>
          <ul>
            {run.corrections.map(({ what, at, undoneAt }) => (
              <li key={at}>
                {what}, {new Date(at).toLocaleString()}
                {undoneAt !== null && <span className="quiet"> (undone)</span>}
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}
