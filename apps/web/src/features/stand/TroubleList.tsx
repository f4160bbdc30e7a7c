import { SYMPTOMS } from '@ebrix/core/bench';
import { partNamed } from '@ebrix/core/life';
import { Button, Input, Radio, Select } from 'antd';
import { useState } from 'react';
import type { SetupDetail } from '@ebrix/contract';
import { useIntoLogbook } from '../../entities/life/index.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { QueryView, Problem } from '../../shared/ui/QueryView.js';
import { rememberedName, rememberName } from '../../shared/ui/remembered-name.js';
import {
  useAddFindingMutation,
  useFindingsQuery,
  useRemoveFindingMutation,
  type NewFinding,
} from '../../entities/stand/index.js';

/** By symptom, what to look at in order of likelihood; what it was is kept with the revision. */
export function TroubleList({ setup }: { readonly setup: SetupDetail }) {
  const [symptomId, setSymptomId] = useState<string>();
  const symptom = SYMPTOMS.find(({ id }) => id === symptomId);
  return (
    <section aria-label="Trouble-shooting">
      <h2>Something is wrong</h2>
      <Radio.Group
        optionType="button"
        aria-label="Symptom"
        {...(symptomId !== undefined && { value: symptomId })}
        options={SYMPTOMS.map(({ id, name }) => ({ value: id, label: name }))}
        onChange={({ target }) => setSymptomId(target.value as string)}
      />
      {symptom && (
        <div className="columns mt-12">
          <ol className="clearance" aria-label="Likeliest first">
            {symptom.suspects.map(({ id, cause, look, caution }) => (
              <li key={id}>
                <strong>{cause}</strong>
                <p>{look}</p>
                {caution && <p className="caution">{caution}</p>}
              </li>
            ))}
          </ol>
          <FindingForm key={symptom.id} setup={setup} symptomId={symptom.id} />
        </div>
      )}
      <Findings setupId={setup.id} />
    </section>
  );
}

function FindingForm({ setup, symptomId }: { readonly setup: SetupDetail; readonly symptomId: string }) {
  const { suspects } = SYMPTOMS.find(({ id }) => id === symptomId)!;
  const [add, { isLoading, error }] = useAddFindingMutation();
  const [suspect, setSuspect] = useState<string | null>(null);
  const [cause, setCause] = useState('');
  const [cure, setCure] = useState('');
  const [by, setBy] = useState(rememberedName);
  const submit = async (): Promise<void> => {
    rememberName(by.trim());
    const finding: NewFinding = { revisionId: setup.revisions[0]!.id, symptom: symptomId, suspect, cause, cure, by };
    const { data } = await add({ setupId: setup.id, finding });
    if (!data) return;
    setSuspect(null);
    setCause('');
    setCure('');
  };
  return (
    <form
      style={{ display: 'grid', gap: 8, alignContent: 'start' }}
      onSubmit={(event) => {
        event.preventDefault();
        void submit();
      }}
    >
      <h3>Cause found</h3>
      <Select
        allowClear
        aria-label="Which of these was it"
        placeholder="One of these, or leave blank"
        value={suspect}
        options={suspects.map((one) => ({ value: one.id, label: one.cause }))}
        onChange={(id: string | undefined) => {
          setSuspect(id ?? null);
          if (id && cause === '') setCause(suspects.find((one) => one.id === id)!.cause);
        }}
      />
      <Input
        aria-label="Cause"
        placeholder="In your words"
        value={cause}
        onChange={({ target }) => setCause(target.value)}
      />
      <Input
        aria-label="Fix"
        placeholder="What fixed it"
        value={cure}
        onChange={({ target }) => setCure(target.value)}
      />
      <Input aria-label="Your name" placeholder="Your name" value={by} onChange={({ target }) => setBy(target.value)} />
      <div>
        <Button
          type="primary"
          htmlType="submit"
          loading={isLoading}
          disabled={cause.trim().length < 3 || by.trim().length < 2}
        >
          Note it
        </Button>
      </div>
      {error !== undefined && <Problem error={error} />}
    </form>
  );
}

function Findings({ setupId }: { readonly setupId: string }) {
  const query = useFindingsQuery(setupId);
  const [remove] = useRemoveFindingMutation();
  const [add] = useAddFindingMutation();
  const intoLogbook = useIntoLogbook();
  const notices = useNotices();
  return (
    <QueryView query={query}>
      {(findings) =>
        findings.length === 0 ? null : (
          <div className="scroll-x mt-14">
            <table className="rows">
              <thead>
                <tr>
                  <th scope="col">Noticed</th>
                  <th scope="col">Cause found</th>
                  <th scope="col">Fix</th>
                  <th scope="col">Revision, day, by</th>
                  <th scope="col">
                    <span className="unseen">Actions</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {findings.map(({ id, at, revisionNumber, ...finding }) => (
                  <tr key={id}>
                    <td>{SYMPTOMS.find((one) => one.id === finding.symptom)?.name ?? finding.symptom}</td>
                    <td>{finding.cause}</td>
                    <td>{finding.cure || '–'}</td>
                    <td>
                      {revisionNumber}, {new Date(at).toLocaleDateString()}, {finding.by}
                    </td>
                    <td>
                      <div className="finding-acts">
                        <Button
                          size="small"
                          aria-label={`Into the logbook: ${finding.cause}`}
                          onClick={() =>
                            void intoLogbook(
                              {
                                day: at.slice(0, 10),
                                by: finding.by,
                                part: partNamed(finding.cause.split(' ')[0] ?? '') ?? 'other',
                                symptom: finding.symptom,
                                words: SYMPTOMS.find((one) => one.id === finding.symptom)?.name ?? '',
                                cause: finding.cause,
                                cure: finding.cure,
                              },
                              { kind: 'setup', id: setupId },
                              `finding:${id}`,
                            )
                          }
                        >
                          Into the logbook
                        </Button>
                        <Button
                          size="small"
                          aria-label={`Remove: ${finding.cause}`}
                          onClick={() =>
                            void remove({ setupId, id }).then((result) => {
                              if (!notices.failure(result))
                                notices.undoable(id, 'Finding removed.', () => void add({ setupId, finding }));
                            })
                          }
                        >
                          Remove
                        </Button>
                      </div>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )
      }
    </QueryView>
  );
}
