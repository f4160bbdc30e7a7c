import { Button, Checkbox } from 'antd';

import { Link, useNavigate, useSearchParams } from 'react-router';
import type { Clearance, Setup } from '@ebrix/contract';
import { FilePicker } from '../../shared/ui/FilePicker.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { QueryView, Problem } from '../../shared/ui/QueryView.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { Page } from '../../shared/ui/Page.js';
import { BenchPlaces } from '../../entities/part/index.js';
import { EmptyStart } from '../../entities/demo/index.js';
import { useShortcut } from '../../shared/shortcuts/index.js';
import { useImportSetupMutation, useListSetupsQuery } from '../../entities/setup/index.js';
import { nextStepOfSetup } from './setup-next-step.js';
import { countLabel } from './CheckList.js';
import { NO_KIT } from './facts.js';

const MAX_COMPARED = 3;

export default function SetupsPage() {
  const query = useListSetupsQuery();
  const navigate = useNavigate();
  const [params, setParams] = useSearchParams();
  const picked = (params.get('with') ?? '').split(',').filter((id) => id !== '');
  useShortcut('n', 'New setup', () => void navigate('/bench/setups/new'));
  const pick = (id: string, isPicked: boolean): void => {
    const next = isPicked ? [...picked, id].slice(-MAX_COMPARED) : picked.filter((one) => one !== id);
    setParams(next.length > 0 ? { with: next.join(',') } : {}, { replace: true });
  };
  return (
    <Page
      title="Bench"
      actions={
        <>
          {picked.length >= 2 ? (
            <LinkButton to={`/bench/compare?with=${picked.join(',')}`} label={`Compare ${picked.length}`} />
          ) : (
            <Button disabled title="Tick two or three setups in the list">
              Compare
            </Button>
          )}
          <LinkButton to="/bench/fittings" label="Fitting times" />
          <ImportSetup />
          <LinkButton isMain to="/bench/setups/new" label="New setup" />
        </>
      }
    >
      <BenchPlaces />
      <QueryView query={query}>
        {(setups) =>
          setups.length === 0 ? (
            <EmptyStart
              what="A setup is a bike with a kit, its pack and its settings. Choose them, and Ebrix adds up mass, money and range and checks what fits before anything is bought or ridden."
              action={{ to: '/bench/setups/new', label: 'Create a setup' }}
            />
          ) : (
            <div className="scroll-x">
              <table className="rows">
                <thead>
                  <tr>
                    <th scope="col">
                      <span className="unseen">Compare</span>
                    </th>
                    <th scope="col">Setup</th>
                    <th scope="col">Bike, kit, packs</th>
                    <th scope="col">Checks</th>
                    <th scope="col">Before you ride</th>
                    <th scope="col" className="number">
                      Revision
                    </th>
                    <th scope="col" className="number">
                      Runs
                    </th>
                    <th scope="col">Trials</th>
                  </tr>
                </thead>
                <tbody>
                  {setups.map((setup) => (
                    <SetupRow
                      key={setup.id}
                      setup={setup}
                      isPicked={picked.includes(setup.id)}
                      onPick={(isPicked) => pick(setup.id, isPicked)}
                    />
                  ))}
                </tbody>
              </table>
            </div>
          )
        }
      </QueryView>
    </Page>
  );
}

interface RowProps {
  readonly setup: Setup;
  readonly isPicked: boolean;
  readonly onPick: (isPicked: boolean) => void;
}
function SetupRow({ setup, isPicked, onPick }: RowProps) {
  const latest = setup.revisions[0];
  const { clearance } = setup;
  const next = nextStepOfSetup(setup);
  return (
    <tr className={setup.archivedAt ? 'quiet' : ''}>
      <td>
        <Checkbox
          checked={isPicked}
          onChange={({ target }) => onPick(target.checked)}
          aria-label={`${setup.name}: compare`}
        />
      </td>
      <td>
        <Link to={`/bench/setups/${setup.id}`}>{setup.name}</Link>
        {setup.archivedAt && <span className="quiet"> (archived)</span>}
        {next && (
          <div>
            <span className="quiet">Next: </span>
            <Link to={next.to}>{next.words}</Link>
          </div>
        )}
      </td>
      <td>
        {latest?.bike.name}
        <div className="quiet">
          {latest && [latest.kit?.name ?? NO_KIT, ...latest.packs.map(({ name }) => name)].join(', ')}
        </div>
      </td>
      <td>
        <Link to={`/bench/setups/${setup.id}/checks`} className={clearance.stops > 0 ? 'stop-link' : ''}>
          {countLabel(clearance)}
        </Link>
      </td>
      <td className="nowrap">
        <Link to={`/bench/setups/${setup.id}/clearance`}>{clearanceLabel(clearance)}</Link>
      </td>
      <td className="number">{latest?.number}</td>
      <td className="number">
        <Link to={`/runs?setup=${setup.id}`}>{setup.revisions.reduce((sum, { runCount }) => sum + runCount, 0)}</Link>
      </td>
      <td>
        {setup.trials.map(({ id, question }) => (
          <div key={id}>
            <Link to={`/trials/${id}/verdict`}>{question}</Link>
          </div>
        ))}
      </td>
    </tr>
  );
}

export function clearanceLabel({ openClearance, items }: Clearance): string {
  return openClearance === 0 ? 'may be ridden' : `${openClearance} of ${items} to do`;
}

function ImportSetup() {
  const [bring, { isLoading, error }] = useImportSetupMutation();
  const navigate = useNavigate();
  const notices = useNotices();
  const take = async (file: File): Promise<void> => {
    const { data } = await bring(file);
    if (!data) return;
    notices.success(`“${data.name}” is on the bench. Its safety checks are still to do: open them here.`);
    void navigate(`/bench/setups/${data.id}`);
  };
  return (
    <>
      <FilePicker
        label="Import a setup"
        name="Setup file"
        accept=".json,application/json"
        isLoading={isLoading}
        onFile={(file) => void take(file)}
      />
      {error !== undefined && (
        <div className="basis-full max-w-560">
          <Problem error={error} />
        </div>
      )}
    </>
  );
}
