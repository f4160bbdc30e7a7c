import { mostWanted, type Check } from '@ebrix/core/bench';
import { Button } from 'antd';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import type { MarkInput, SetupDetail } from '@ebrix/contract';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { factsOf, seenMarks, useMarkMutation, useUnmarkMutation } from '../../entities/setup/index.js';
import { CheckList } from './CheckList.js';
import { DriveSideTrial } from './DriveSideTrial.js';
import { SignForm } from './SignForm.js';

const MOST_WANTED = 5;
const OWNERS = {
  bike: 'on the bike',
  kit: 'of the kit',
  pack: 'of the pack',
  charger: 'of the charger',
  'add-on': 'of an add-on',
  limits: 'in the limits',
  settings: 'in the settings',
  fit: 'how it is fitted',
} as const;

interface Signing {
  readonly ids: readonly string[];
  readonly kind: MarkInput['kind'];
}

/** What may go wrong with these parts, gravest first, each with its sum, its mend and a way to waive it in writing. */
interface Props {
  readonly setup: SetupDetail;
  readonly checks: readonly Check[];
}
export function ChecksTab({ setup, checks }: Props) {
  const facts = useMemo(() => factsOf(setup.revisions[0]!), [setup]);
  const revision = setup.revisions[0]!;
  const revisionId = revision.id;
  const [signing, setSigning] = useState<Signing>();
  const [mark, marking] = useMarkMutation();
  const [unmark, unmarking] = useUnmarkMutation();
  // What can hurt someone is waived one by one, with the words of who did.
  const unknown = checks.filter(
    ({ state, needs, severity }) => state === 'open' && needs.length > 0 && severity !== 'stop',
  );
  const wanted = mostWanted(checks, MOST_WANTED);
  const stops = checks.filter(
    ({ state, severity }) => severity === 'stop' && (state === 'failed' || state === 'open'),
  ).length;
  const sign = async (input: MarkInput): Promise<void> => {
    const { data } = await mark({ revisionId, input: { ...input, seen: seenMarks(revision, input.ids) } });
    // A quick hand may have opened the next one meanwhile.
    if (data) setSigning((current) => (current && input.ids.includes(current.ids[0]!) ? undefined : current));
  };
  const form = (label: string) =>
    signing && (
      <SignForm
        {...signing}
        label={label}
        isBusy={marking.isLoading}
        error={marking.error}
        onSign={(input) => void sign(input)}
        onCancel={() => {
          marking.reset();
          setSigning(undefined);
        }}
      />
    );
  const actions = (check: Check) => {
    const isHere = signing?.ids.length === 1 && signing.ids[0] === check.id;
    if (isHere) return form(signing.kind === 'waived' ? 'Waive' : 'Confirm');
    if (check.mark)
      return (
        <div className="actions">
          <Button
            size="small"
            onClick={() =>
              void unmark({ revisionId, input: { ids: [check.id], seen: seenMarks(revision, [check.id]) } })
            }
          >
            {check.mark.kind === 'waived' ? 'Withdraw waiver' : 'Withdraw'}
          </Button>
        </div>
      );
    if (check.state === 'passed') return null;
    return (
      <div className="actions">
        {check.isManual && (
          <Button size="small" onClick={() => setSigning({ ids: [check.id], kind: 'passed' })}>
            Checked: it is right
          </Button>
        )}
        <Button
          size="small"
          onClick={() => setSigning({ ids: [check.id], kind: 'waived' })}
          aria-label={`Waive in writing: ${check.title}`}
        >
          Waive in writing
        </Button>
      </div>
    );
  };
  const isForAll = signing && signing.ids.length > 1;
  return (
    <div className="max-w-860">
      <p className="mb-12">
        {stops > 0 ? (
          <>
            <strong>
              {stops === 1 ? 'One check that can hurt someone keeps' : `${stops} checks that can hurt someone keep`}{' '}
              this bike off the road.
            </strong>{' '}
            Fix the part or fit, fill in what is missing, or waive it in writing.
          </>
        ) : (
          'Nothing that can hurt someone is failed or open.'
        )}{' '}
        These are sums from what you entered; they do not replace the makers’ instructions or a mechanic’s eye.
      </p>
      {unmarking.error !== undefined && <Problem error={unmarking.error} />}
      <div className="actions mb-10">
        <LinkButton isMain to={`/bench/setups/${setup.id}/edit`} label="Change parts or fit" />
        {unknown.length > 1 && !isForAll && (
          <Button onClick={() => setSigning({ ids: unknown.map(({ id }) => id), kind: 'waived' })}>
            Waive {unknown.length} that cannot be checked and hurt nobody
          </Button>
        )}
        <Link to={`/bench/setups/${setup.id}/clearance`} className="self-center">
          On to “Before you ride”
        </Link>
      </div>
      {wanted.length > 0 && (
        <section aria-label="Measure these first" className="mb-14">
          <h2 className="mb-6">Measure these first</h2>
          <ul className="m-0 pl-18">
            {wanted.map(({ need, checks: count, stops: grave }) => (
              <li key={`${need.owner}.${need.field}`}>
                {need.label}
                <span className="quiet">
                  {`: ${OWNERS[need.owner]}; settles ${count} ${count === 1 ? 'check' : 'checks'}${grave > 0 ? `, ${grave} of which can hurt someone` : ''}`}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      {isForAll && form(`Waive ${signing.ids.length} checks`)}
      <CheckList checks={checks} actions={actions} />
      <DriveSideTrial facts={facts} />
    </div>
  );
}
