import { Button, Select } from 'antd';
import { Link } from 'react-router';
import { ridingText } from '@ebrix/core/compare';
import { LETTERS, openRiding, type Trial, type TrialInput } from '@ebrix/contract';
import { Problem } from '../../shared/ui/QueryView.js';
import { useOpened } from '../../shared/ui/piece.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { SetupMark } from '../../shared/ui/SetupMark.js';
import { useListSetupsQuery } from '../../entities/setup/index.js';
import { toTrialInput, useSaveTrialMutation } from '../../entities/trial/index.js';
import { armRiding } from './forms.js';
import { OpenClearance } from './OpenClearance.js';

/** Which setups are compared; each keeps its letter, colour and marker everywhere. */
export function SetupsStep({ trial }: { readonly trial: Trial }) {
  const { data: setups } = useListSetupsQuery();
  const [save, { isLoading, error }] = useSaveTrialMutation();
  const { value: editing, ...changing } = useOpened<number>(armRiding);
  const { value: twice, ...again } = useOpened<string>(armRiding);
  const chosen = toTrialInput(trial).arms;
  const set = (arms: TrialInput['arms']): void => void save({ input: { ...toTrialInput(trial), arms }, stored: trial });
  const choices = (setups ?? [])
    .filter(({ archivedAt }) => archivedAt === null)
    .flatMap(({ name, revisions }) =>
      revisions.map(({ id, number, runCount }) => ({
        value: id,
        label: `${name}, revision ${number} (${runCount} runs)`,
      })),
    );
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
          {trial.setups.map(({ letter, name, riding, revisionNumber, setupId, openClearance, ...runs }, k) => (
            <tr key={letter}>
              <td>
                <SetupMark letter={letter} /> <Link to={`/bench/setups/${setupId}`}>{name}</Link>
                {revisionNumber > 1 && <span className="quiet">, revision {revisionNumber}</span>}
                <div className="quiet text-12-5">{ridingText(riding)}</div>
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
                    onClick={() => void changing.open(k)}
                    aria-label={`How ${name} is ridden, ${letter}`}
                  >
                    Ridden how
                  </Button>
                  <Button
                    size="small"
                    disabled={isLoading}
                    onClick={() => set(chosen.filter((_, at) => at !== k))}
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
          onChange={(id: string | null) => {
            if (!id) return;
            const isThere = chosen.some(({ revisionId }) => revisionId === id);
            // The same setup twice is two ways of riding it: which, is asked for first.
            if (isThere) void again.open(id);
            else set([...chosen, { revisionId: id, riding: openRiding }]);
          }}
          notFoundContent="No setup yet: create one on the bench."
        />
      )}
      {editing !== undefined && (
        <armRiding.Part
          title={`How ${trial.setups[editing]!.name} is ridden`}
          riding={chosen[editing]!.riding}
          onDone={(wanted) => {
            changing.close();
            if (wanted) set(chosen.map((arm, at) => (at === editing ? { ...arm, riding: wanted } : arm)));
          }}
        />
      )}
      {twice !== undefined && (
        <armRiding.Part
          title="The same setup, ridden how?"
          riding={openRiding}
          onDone={(wanted) => {
            again.close();
            if (wanted) set([...chosen, { revisionId: twice, riding: wanted }]);
          }}
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
