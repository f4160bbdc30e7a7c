import { Button, Select } from 'antd';
import { Link } from 'react-router';
import { LETTERS, type Trial } from '@ebrix/contract';
import { Problem } from '../../shared/ui/QueryView.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { SetupMark } from '../../shared/ui/SetupMark.js';
import { useListSetupsQuery } from '../../entities/setup/index.js';
import { toTrialInput, useSaveTrialMutation } from '../../entities/trial/index.js';
import { OpenClearance } from './OpenClearance.js';

/** Which setups are compared; each keeps its letter, colour and marker everywhere. */
export function SetupsStep({ trial }: { readonly trial: Trial }) {
  const { data: setups } = useListSetupsQuery();
  const [save, { isLoading, error }] = useSaveTrialMutation();
  const set = (revisionIds: string[]): void =>
    void save({ input: { ...toTrialInput(trial), revisionIds }, stored: trial });
  const chosen = toTrialInput(trial).revisionIds;
  const choices = (setups ?? [])
    .filter(({ archivedAt }) => archivedAt === null)
    .flatMap(({ name, revisions }) =>
      revisions.map(({ id, number, runCount }) => ({
        value: id,
        label: `${name}, revision ${number} (${runCount} runs)`,
      })),
    )
    .filter(({ value }) => !chosen.includes(value));
  const move = (index: number, by: number): void => {
    const next = [...chosen];
    [next[index], next[index + by]] = [next[index + by]!, next[index]!];
    set(next);
  };
  return (
    <div className="max-w-760 grid gap-14">
      <table className="rows">
        <thead>
          <tr>
            <th scope="col">Setup</th>
            <th scope="col" className="number">
              Runs counted
            </th>
            <th scope="col" className="number">
              Left out
            </th>
            <th scope="col">Before you ride</th>
            <th scope="col">
              <span className="unseen">Actions</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {trial.setups.map(({ letter, name, revisionId, revisionNumber, setupId, openClearance, ...runs }, k) => (
            <tr key={revisionId}>
              <td>
                <SetupMark letter={letter} /> <Link to={`/bench/setups/${setupId}`}>{name}</Link>
                {revisionNumber > 1 && <span className="quiet">, revision {revisionNumber}</span>}
              </td>
              <td className="number">{runs.countedRuns}</td>
              <td className="number">{runs.excludedRuns}</td>
              <td>
                <Link to={`/bench/setups/${setupId}/clearance`}>
                  {openClearance === 0 ? 'may be ridden' : `${openClearance} to do`}
                </Link>
              </td>
              <td>
                <span className="actions justify-end">
                  <Button
                    size="small"
                    disabled={k === 0 || isLoading}
                    onClick={() => move(k, -1)}
                    aria-label={`Move ${name} up`}
                  >
                    Up
                  </Button>
                  <Button
                    size="small"
                    disabled={isLoading}
                    onClick={() => set(chosen.filter((id) => id !== revisionId))}
                    aria-label={`Remove ${name} from the trial`}
                  >
                    Remove
                  </Button>
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <OpenClearance trial={trial} />
      {trial.setups.length < LETTERS.length && (
        <Select
          aria-label="Add a setup"
          placeholder={`Add setup ${LETTERS[trial.setups.length]!}`}
          className="w-100-pct"
          value={null}
          loading={isLoading}
          options={choices}
          showSearch={{ optionFilterProp: 'label' }}
          onChange={(id: string | null) => id && set([...chosen, id])}
          notFoundContent="No other setup: create one on the bench."
        />
      )}
      {error !== undefined && <Problem error={error} />}
      <div className="actions">
        {trial.setups.length >= 2 ? (
          <>
            <LinkButton isMain to={`/trials/${trial.id}/plan`} label="On to the plan" />
            <LinkButton to={`/trials/${trial.id}/runs`} label="On to the runs" />
          </>
        ) : (
          <p className="quiet">Add at least two setups to compare.</p>
        )}
      </div>
    </div>
  );
}
