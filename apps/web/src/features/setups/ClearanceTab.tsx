import { openClearance, PAST_RIDES, type ClearanceItem } from '@ebrix/core/bench';
import { Button } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import type { MarkInput, SetupDetail } from '@ebrix/contract';
import { formatDay } from '../../shared/format/format-quantity.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { seenMarks, useMarkMutation, useUnmarkMutation } from '../../entities/setup/index.js';
import { SentenceText } from '../../shared/ui/SentenceText.js';
import { SignForm } from './SignForm.js';

const CLEARANCE_LABELS = { open: 'open', passed: 'passed', waived: 'waived' } as const;

/** What has to be so before anyone rides, each passed or waived by name. */
export function ClearanceTab({
  setup,
  items,
}: {
  readonly setup: SetupDetail;
  readonly items: readonly ClearanceItem[];
}) {
  const revision = setup.revisions[0]!;
  const [signing, setSigning] = useState<{ readonly id: string; readonly kind: MarkInput['kind'] }>();
  const [mark, marking] = useMarkMutation();
  const [unmark, unmarking] = useUnmarkMutation();
  const list = useRef<HTMLOListElement>(null);
  const signedId = useRef<string>(undefined);
  const past = revision.marks.find(({ id }) => id === PAST_RIDES);
  const open = openClearance(items).length;
  const sign = async (input: MarkInput): Promise<void> => {
    const { data } = await mark({ revisionId: revision.id, input: { ...input, seen: seenMarks(revision, input.ids) } });
    if (!data) return;
    // A quick hand may have opened the next one meanwhile.
    setSigning((current) => (current && input.ids.includes(current.id) ? undefined : current));
    signedId.current = input.ids[0];
  };
  // The form is gone with the focus in it: the next open check gets it, so that the keyboard goes on from there.
  useEffect(() => {
    if (signing || items.find(({ id }) => id === signedId.current)?.state === 'open' || signedId.current === undefined)
      return;
    signedId.current = undefined;
    list.current?.querySelector<HTMLElement>('li[data-state="open"] button')?.focus();
  }, [items, signing]);
  return (
    <div className="max-w-860 grid gap-12">
      <p className={open > 0 ? 'caution' : ''}>
        {open > 0
          ? `Do not ride yet: ${open} ${open === 1 ? 'safety check' : 'safety checks'} still to do. Do each of them at the bike, not from memory.`
          : `All safety checks of revision ${revision.number} are passed or waived: this setup may be ridden. On public ground, check your local rules.`}
      </p>
      {past && (
        <p className="quiet">
          Rides were brought in with checks to do: “{past.reason}”, {past.by}, {formatDay(past.at.slice(0, 10))}. That
          passes none of these.
        </p>
      )}
      {unmarking.error !== undefined && <Problem error={unmarking.error} />}
      <ol className="clearance" ref={list}>
        {items.map((item) => (
          <li key={item.id} data-state={item.state} aria-label={`${item.title}: ${CLEARANCE_LABELS[item.state]}`}>
            <div className="check-head">
              <strong>{item.title}</strong>
              <span className={`state ${item.state}`}>
                <span aria-hidden="true">{{ open: '?', passed: '✓', waived: '~' }[item.state]}</span>{' '}
                {CLEARANCE_LABELS[item.state]}
              </span>
            </div>
            <p>
              <SentenceText of={item.what} />
            </p>
            {item.mark && (
              <p className="quiet">
                {item.mark.kind === 'waived' ? 'Waived' : 'Passed'} by {item.mark.by},{' '}
                {new Date(item.mark.at).toLocaleDateString()}
                {item.mark.reason && `: ${item.mark.reason}`}
              </p>
            )}
            {signing?.id === item.id ? (
              <SignForm
                ids={[item.id]}
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
              <ClearanceActions
                item={item}
                setupId={setup.id}
                onSign={(kind) => setSigning({ id: item.id, kind })}
                onUndo={() =>
                  void unmark({
                    revisionId: revision.id,
                    input: { ids: [item.id], seen: seenMarks(revision, [item.id]) },
                  })
                }
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
  readonly item: ClearanceItem;
  readonly setupId: string;
  readonly onSign: (kind: MarkInput['kind']) => void;
  readonly onUndo: () => void;
}
function ClearanceActions({ item, setupId, onSign, onUndo }: ActionProps) {
  if (item.isComputed)
    return item.state === 'open' ? <Link to={`/bench/setups/${setupId}/checks`}>To the checks</Link> : null;
  if (item.mark)
    return (
      <div className="actions">
        <Button size="small" onClick={onUndo} aria-label={`Undo: ${item.title}`}>
          Undo
        </Button>
      </div>
    );
  return (
    <div className="actions">
      <Button size="small" type="primary" onClick={() => onSign('passed')} aria-label={`Pass: ${item.title}`}>
        Pass
      </Button>
      <Button size="small" onClick={() => onSign('waived')} aria-label={`Waive in writing: ${item.title}`}>
        Waive in writing
      </Button>
    </div>
  );
}
