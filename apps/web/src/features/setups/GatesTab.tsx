import { openGates, type Gate } from '@ebrix/core/bench';
import { Button } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import type { MarkInput, SetupDetail } from '@ebrix/contract';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { useMarkMutation, useUnmarkMutation } from './api.js';
import { SentenceText } from './SentenceText.js';
import { SignForm } from './SignForm.js';

const GATE_WORDS = { open: 'open', passed: 'passed', waived: 'waived' } as const;

/** What has to be so before anyone rides, each passed or waived by name. */
export function GatesTab({ setup, gates }: { readonly setup: SetupDetail; readonly gates: readonly Gate[] }) {
  const revision = setup.revisions[0]!;
  const [signing, setSigning] = useState<{ readonly id: string; readonly kind: MarkInput['kind'] }>();
  const [mark, marking] = useMarkMutation();
  const [unmark] = useUnmarkMutation();
  const list = useRef<HTMLOListElement>(null);
  const signedId = useRef<string>(undefined);
  const open = openGates(gates).length;
  const sign = async (input: MarkInput): Promise<void> => {
    const { data } = await mark({ revisionId: revision.id, input });
    if (!data) return;
    // A quick hand may have opened the next one meanwhile.
    setSigning((current) => (current && input.ids.includes(current.id) ? undefined : current));
    signedId.current = input.ids[0];
  };
  // The form is gone with the focus in it: the next open gate gets it, so that the keyboard goes on from there.
  useEffect(() => {
    if (signing || gates.find(({ id }) => id === signedId.current)?.state === 'open' || signedId.current === undefined)
      return;
    signedId.current = undefined;
    list.current?.querySelector<HTMLElement>('li[data-state="open"] button')?.focus();
  }, [gates, signing]);
  return (
    <div style={{ maxWidth: 860, display: 'grid', gap: 12 }}>
      <p className={open > 0 ? 'caution' : ''}>
        {open > 0
          ? `Not to be ridden yet: ${open} ${open === 1 ? 'gate is' : 'gates are'} open. Hands on the bike for each of them, not from memory.`
          : `All gates of revision ${revision.number} are passed or waived: this setup may be ridden. On public ground, check your local rules.`}
      </p>
      <ol className="gates" ref={list}>
        {gates.map((gate) => (
          <li key={gate.id} data-state={gate.state} aria-label={`${gate.title}: ${GATE_WORDS[gate.state]}`}>
            <div className="check-head">
              <strong>{gate.title}</strong>
              <span className={`state ${gate.state}`}>
                <span aria-hidden="true">{{ open: '?', passed: '✓', waived: '~' }[gate.state]}</span>{' '}
                {GATE_WORDS[gate.state]}
              </span>
            </div>
            <p>
              <SentenceText of={gate.what} />
            </p>
            {gate.mark && (
              <p className="quiet">
                {gate.mark.kind === 'waived' ? 'Waived' : 'Passed'} by {gate.mark.by},{' '}
                {new Date(gate.mark.at).toLocaleDateString()}
                {gate.mark.reason && `: ${gate.mark.reason}`}
              </p>
            )}
            {signing?.id === gate.id ? (
              <SignForm
                ids={[gate.id]}
                kind={signing.kind}
                label={signing.kind === 'passed' ? 'Passed' : 'Waive'}
                isBusy={marking.isLoading}
                error={marking.error}
                onSign={(input) => void sign(input)}
                onCancel={() => {
                  marking.reset();
                  setSigning(undefined);
                }}
              />
            ) : (
              <GateActions
                gate={gate}
                setupId={setup.id}
                onSign={(kind) => setSigning({ id: gate.id, kind })}
                onUndo={() => void unmark({ revisionId: revision.id, ids: [gate.id] })}
              />
            )}
          </li>
        ))}
      </ol>
      <div className="actions">
        <LinkButton isMain={open === 0} to={`/bench/setups/${setup.id}/toolbox`} label="Print the toolbox sheet" />
      </div>
    </div>
  );
}

interface ActionProps {
  readonly gate: Gate;
  readonly setupId: string;
  readonly onSign: (kind: MarkInput['kind']) => void;
  readonly onUndo: () => void;
}
function GateActions({ gate, setupId, onSign, onUndo }: ActionProps) {
  if (gate.isComputed)
    return gate.state === 'open' ? <Link to={`/bench/setups/${setupId}/checks`}>To the checks</Link> : null;
  if (gate.mark)
    return (
      <div className="actions">
        <Button size="small" onClick={onUndo} aria-label={`Open again: ${gate.title}`}>
          Open again
        </Button>
      </div>
    );
  return (
    <div className="actions">
      <Button size="small" type="primary" onClick={() => onSign('passed')} aria-label={`Pass: ${gate.title}`}>
        Pass
      </Button>
      <Button size="small" onClick={() => onSign('waived')} aria-label={`Waive in writing: ${gate.title}`}>
        Waive in writing
      </Button>
    </div>
  );
}
