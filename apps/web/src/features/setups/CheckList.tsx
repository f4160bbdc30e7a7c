import type { Check, CheckCounts } from '@ebrix/core/bench';
import { Fragment, type ReactNode } from 'react';
import { SentenceText } from '../../shared/ui/SentenceText.js';

export const STATE_LABELS: Readonly<Record<Check['state'], string>> = {
  failed: 'failed',
  open: 'cannot check',
  likely: 'likely passes',
  waived: 'waived',
  passed: 'passed',
};
const GROUP_LABELS: Readonly<Record<Check['group'], string>> = {
  fit: 'Fit',
  load: 'Load',
  electrical: 'Electrics',
  packs: 'Packs',
  law: 'Your limits',
};
const SEVERITY_LABELS: Readonly<Record<Check['severity'], string>> = {
  stop: 'can hurt someone',
  caution: 'will not work well',
  note: 'worth knowing',
};

export function countLabel({ failed, open, likely, waived, passed }: CheckCounts): string {
  const parts = [
    failed > 0 && `${failed} failed`,
    open > 0 && `${open} open`,
    likely > 0 && `${likely} likely`,
    waived > 0 && `${waived} waived`,
    `${passed} passed`,
  ];
  return parts.filter(Boolean).join(', ');
}

/** State as a word with its own mark: never by colour alone. */
export function StateMark({ state, severity }: Pick<Check, 'severity' | 'state'>) {
  const isStop = severity === 'stop' && (state === 'failed' || state === 'open');
  return (
    <span className={`state ${state}${isStop ? ' stop' : ''}`}>
      <span aria-hidden="true">{{ failed: '✕', open: '?', likely: '≈', waived: '~', passed: '✓' }[state]}</span>{' '}
      {STATE_LABELS[state]}
    </span>
  );
}

interface Props {
  readonly checks: readonly Check[];
  /** What can be done about a check, below it. */
  readonly actions?: (check: Check) => ReactNode;
  /** Passed ones stand in one line. */
  readonly isBrief?: boolean;
}

/** Checks in the order of consequence, each with its arithmetic and what mends it. */
export function CheckList({ checks, actions, isBrief = false }: Props) {
  const passed = checks.filter(({ state }) => state === 'passed');
  const rest = checks.filter(({ state }) => state !== 'passed');
  return (
    <div>
      {rest.length > 0 && (
        <ul className="checks" aria-label="Checks not passed">
          {rest.map((check) => (
            <CheckItem key={check.id} check={check} isBrief={isBrief}>
              {actions?.(check)}
            </CheckItem>
          ))}
        </ul>
      )}
      {passed.length > 0 && (
        <details style={{ marginTop: 10 }} {...(!isBrief && rest.length === 0 && { open: true })}>
          <summary>{passed.length} passed</summary>
          <ul className="checks">
            {passed.map((check) => (
              <CheckItem key={check.id} check={check} isBrief={isBrief}>
                {actions?.(check)}
              </CheckItem>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}

function CheckItem({
  check,
  isBrief,
  children,
}: {
  readonly check: Check;
  readonly isBrief: boolean;
  readonly children: ReactNode;
}) {
  const { title, state, severity, group, arithmetic, remedy, basis, mark } = check;
  return (
    <li id={`check-${check.id}`} data-state={state}>
      <div className="check-head">
        <strong>{title}</strong>
        <StateMark state={state} severity={severity} />
        <span className="quiet">
          {GROUP_LABELS[group]}
          {state !== 'passed' && group !== 'law' && `, ${SEVERITY_LABELS[severity]}`}
        </span>
      </div>
      <p className="arithmetic">
        <SentenceText of={arithmetic} />
      </p>
      {state !== 'passed' && remedy.length > 0 && (
        <p>
          <SentenceText of={remedy} />
        </p>
      )}
      {mark && (
        <p className="quiet">
          {mark.kind === 'waived' ? 'Waived' : 'Confirmed'} by {mark.by}, {new Date(mark.at).toLocaleDateString()}
          {mark.reason && `: ${mark.reason}`}
        </p>
      )}
      {!isBrief && (
        <details>
          <summary className="quiet">How this is checked</summary>
          <p className="quiet">{basis}</p>
        </details>
      )}
      <Fragment>{children}</Fragment>
    </li>
  );
}
