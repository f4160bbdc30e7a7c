import { App as AntApp, Button, Input } from 'antd';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import type { Setup } from '@ebrix/contract';
import { errorMessage } from '../../shared/api/base-api.js';
import { useUnits } from '../../app/hooks.js';
import { formatQuantity } from '../../shared/format/format-quantity.js';
import { Answer } from '../../shared/ui/Answer.js';
import { Page } from '../../shared/ui/Page.js';
import { useArchiveSetupMutation, useChangeSetupMutation, useListSetupsQuery } from './api.js';
import { RevisionForm } from './RevisionForm.js';

const CRUMB = <Link to="/bench/setups">Bench</Link>;

export default function SetupPage() {
  const { id } = useParams();
  const query = useListSetupsQuery();
  const setup = query.data?.find((one) => one.id === id);
  if (setup) return <SetupView setup={setup} />;
  return (
    <Page title="Setup" crumb={CRUMB}>
      <Answer query={query}>{() => <p>This setup is not here (any more).</p>}</Answer>
    </Page>
  );
}

function SetupView({ setup }: { readonly setup: Setup }) {
  const system = useUnits();
  const [isRevising, setRevising] = useState(false);
  const [name, setName] = useState<string>();
  const [change] = useChangeSetupMutation();
  const [archive] = useArchiveSetupMutation();
  const { notification } = AntApp.useApp();
  const tell = (result: { error?: unknown }): void => {
    if (result.error !== undefined) notification.error({ title: errorMessage(result.error), placement: 'bottomRight' });
    else setName(undefined);
  };
  return (
    <Page
      title={setup.name}
      crumb={CRUMB}
      actions={
        <>
          <Button onClick={() => setName(setup.name)}>Rename</Button>
          <Button onClick={() => void archive({ stored: setup, archived: setup.archivedAt === null }).then(tell)}>
            {setup.archivedAt ? 'Bring back' : 'Archive'}
          </Button>
          <Button type="primary" onClick={() => setRevising(true)}>
            New revision
          </Button>
        </>
      }
    >
      {name !== undefined && (
        <form
          className="actions"
          style={{ marginBottom: 16 }}
          onSubmit={(event) => {
            event.preventDefault();
            void change({ stored: setup, name, notes: setup.notes }).then(tell);
          }}
        >
          <Input
            aria-label="New name"
            style={{ width: 340 }}
            value={name}
            autoFocus
            onChange={({ target }) => setName(target.value)}
          />
          <Button type="primary" htmlType="submit">
            Save name
          </Button>
        </form>
      )}
      <p className="quiet" style={{ marginBottom: 12 }}>
        A run belongs to the revision it was ridden with for ever. Changing a part makes a new revision.
      </p>
      <div className="scroll-x">
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">Revision</th>
              <th scope="col">What changed</th>
              <th scope="col">Bike</th>
              <th scope="col">Kit</th>
              <th scope="col">Packs</th>
              <th scope="col">Settings</th>
              <th scope="col" className="number">
                Runs
              </th>
            </tr>
          </thead>
          <tbody>
            {setup.revisions.map((revision) => (
              <tr key={revision.id}>
                <td className="figures">{revision.number}</td>
                <td>{revision.change}</td>
                <td>{revision.bike.name}</td>
                <td>{revision.kit.name}</td>
                <td>{revision.packs.map((pack) => pack.name).join(', ')}</td>
                <td>
                  {[
                    revision.settings.assistLevel && `level ${revision.settings.assistLevel}`,
                    revision.settings.speedLimitKmh !== null &&
                      `limit ${formatQuantity(revision.settings.speedLimitKmh, 'km/h', system)}`,
                    revision.settings.note,
                  ]
                    .filter(Boolean)
                    .join(', ') || '–'}
                </td>
                <td className="number">
                  <Link to={`/runs?revision=${revision.id}`}>{revision.runCount}</Link>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="section caution" style={{ maxWidth: 640 }}>
        Before anyone rides: torque arm and axle nuts tight, both brakes stop the bike, battery locked. Check your local
        rules for power and speed.
      </p>
      {setup.trials.length > 0 && (
        <div className="section links">
          <h2>Trials</h2>
          {setup.trials.map(({ id, question }) => (
            <p key={id}>
              <Link to={`/trials/${id}/verdict`}>{question}</Link>
            </p>
          ))}
        </div>
      )}
      {isRevising && <RevisionForm setup={setup} onDone={() => setRevising(false)} />}
    </Page>
  );
}
