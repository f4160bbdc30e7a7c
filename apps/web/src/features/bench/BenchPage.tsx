import { App as AntApp, Button } from 'antd';
import { useState } from 'react';
import { Link, Navigate, NavLink, useParams } from 'react-router';
import { partKindSchema, type Part, type PartKind, type Setup } from '@ebrix/contract';
import { errorMessage } from '../../shared/api/base-api.js';
import { formatQuantity, plain, unitText } from '../../shared/format/format-quantity.js';
import { Answer } from '../../shared/ui/Answer.js';
import { Page } from '../../shared/ui/Page.js';
import { useUnits } from '../../app/hooks.js';
import { EmptyStart } from '../demo/index.js';
import { useShortcut } from '../help/index.js';
import { useArchivePartMutation, useDeletePartMutation, useListPartsQuery, useListSetupsQuery } from './api.js';
import { PART_WORDS, type PartField } from './part-fields.js';
import { PartForm } from './PartForm.js';
import { RevisionForm } from './RevisionForm.js';

const KINDS: readonly PartKind[] = ['bikes', 'kits', 'packs', 'riders', 'loggers'];

export default function BenchPage() {
  const { kind } = useParams();
  if (kind === 'setups') return <SetupList />;
  const parsed = partKindSchema.safeParse(kind);
  return parsed.success ? <PartList key={parsed.data} kind={parsed.data} /> : <Navigate to="/bench/setups" replace />;
}

function Kinds() {
  return (
    <nav className="choice" aria-label="Kinds of parts" style={{ marginBottom: 16, flexWrap: 'wrap' }}>
      {['setups', ...KINDS].map((kind) => (
        <NavLink key={kind} to={`/bench/${kind}`} className={({ isActive }) => (isActive ? 'here' : '')}>
          {kind === 'setups' ? 'Setups' : PART_WORDS[kind as PartKind].many}
        </NavLink>
      ))}
    </nav>
  );
}

function SetupList() {
  const query = useListSetupsQuery();
  const [isAdding, setAdding] = useState(false);
  useShortcut('n', 'New setup', () => setAdding(true));
  return (
    <Page
      title="Bench"
      actions={
        <Button type="primary" onClick={() => setAdding(true)}>
          New setup
        </Button>
      }
    >
      <Kinds />
      <Answer query={query}>
        {(setups) =>
          setups.length === 0 ? (
            <EmptyStart
              what="A setup is a bike with a kit, its pack and its settings. Add a bike, a kit and a pack first; then put them together here."
              action={{ to: '/bench/bikes', label: 'Add a bike' }}
            />
          ) : (
            <div className="scroll-x">
              <table className="rows">
                <thead>
                  <tr>
                    <th scope="col">Setup</th>
                    <th scope="col">Bike</th>
                    <th scope="col">Kit</th>
                    <th scope="col">Packs</th>
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
                    <SetupRow key={setup.id} setup={setup} />
                  ))}
                </tbody>
              </table>
            </div>
          )
        }
      </Answer>
      {isAdding && <RevisionForm onDone={() => setAdding(false)} />}
    </Page>
  );
}

function SetupRow({ setup }: { readonly setup: Setup }) {
  const latest = setup.revisions[0];
  return (
    <tr style={setup.archivedAt ? { opacity: 0.6 } : {}}>
      <td>
        <Link to={`/bench/setups/${setup.id}`}>{setup.name}</Link>
        {setup.archivedAt && <span className="quiet"> (archived)</span>}
      </td>
      <td>{latest?.bike.name}</td>
      <td>{latest?.kit.name}</td>
      <td>{latest?.packs.map(({ name }) => name).join(', ')}</td>
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

function PartList({ kind }: { readonly kind: PartKind }) {
  const system = useUnits();
  const query = useListPartsQuery(kind);
  const [edited, setEdited] = useState<Part | 'new'>();
  const words = PART_WORDS[kind];
  useShortcut('n', `New ${words.one}`, () => setEdited('new'));
  const shown = words.fields.filter(
    ({ name, kind: field }) => name !== 'name' && field !== 'notes' && name !== 'calibration',
  );
  return (
    <Page title="Bench" actions={<Button type="primary" onClick={() => setEdited('new')}>{`New ${words.one}`}</Button>}>
      <Kinds />
      <p className="quiet" style={{ marginBottom: 12, maxWidth: 720 }}>
        {words.teach}
      </p>
      <Answer query={query}>
        {(parts) =>
          parts.length === 0 ? (
            <div className="teach">
              <p>{`No ${words.many.toLowerCase()} yet.`}</p>
              <Button type="primary" onClick={() => setEdited('new')}>{`Add a ${words.one}`}</Button>
            </div>
          ) : (
            <div className="scroll-x">
              <table className="rows">
                <thead>
                  <tr>
                    <th scope="col">Name</th>
                    {shown.map(({ name, label, kind: field }) => (
                      <th scope="col" key={name} className={field === 'choice' ? '' : 'number'}>
                        {label}
                      </th>
                    ))}
                    <th scope="col">
                      <span className="unseen">Actions</span>
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {parts.map((part) => (
                    <tr key={part.id} style={part.archivedAt ? { opacity: 0.6 } : {}}>
                      <td>
                        <button
                          type="button"
                          className="figure-button"
                          style={{ fontFamily: 'inherit', textAlign: 'left' }}
                          onClick={() => setEdited(part)}
                        >
                          {part.name}
                        </button>
                        {part.archivedAt && <span className="quiet"> (archived)</span>}
                        {part.notes && (
                          <div className="quiet" style={{ fontSize: 12.5 }}>
                            {part.notes}
                          </div>
                        )}
                      </td>
                      {shown.map((field) => (
                        <td key={field.name} className={field.kind === 'choice' ? '' : 'number'}>
                          {cellText(field, (part as Record<string, string | number | null>)[field.name], system)}
                        </td>
                      ))}
                      <td style={{ textAlign: 'right', whiteSpace: 'nowrap' }}>
                        <PartActions kind={kind} part={part} />
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          )
        }
      </Answer>
      {edited && (
        <PartForm kind={kind} part={edited === 'new' ? undefined : edited} onDone={() => setEdited(undefined)} />
      )}
    </Page>
  );
}

function cellText(
  { kind, unit, choices }: PartField,
  value: string | number | null | undefined,
  system: ReturnType<typeof useUnits>,
): string {
  if (value === null || value === undefined || value === '') return '–';
  if (kind === 'choice') return choices?.find((choice) => choice.value === value)?.label ?? String(value);
  if (typeof value !== 'number') return String(value);
  if (!unit) return plain(value);
  // Shares are stored as fractions.
  if (unit === '%') return `${plain(value * 100, 3)} ${unitText(unit)}`;
  return formatQuantity(value, unit, system, 4);
}

function PartActions({ kind, part }: { readonly kind: PartKind; readonly part: Part }) {
  const [archive] = useArchivePartMutation();
  const [remove] = useDeletePartMutation();
  const { notification } = AntApp.useApp();
  const tell = (result: { error?: unknown }): void => {
    if (result.error !== undefined) notification.error({ title: errorMessage(result.error), placement: 'bottomRight' });
  };
  return (
    <span className="actions" style={{ justifyContent: 'flex-end', display: 'inline-flex' }}>
      <Button
        size="small"
        onClick={() => void archive({ kind, stored: part, archived: part.archivedAt === null }).then(tell)}
      >
        {part.archivedAt ? 'Bring back' : 'Archive'}
      </Button>
      {part.archivedAt && (
        <Button size="small" danger onClick={() => void remove({ kind, id: part.id }).then(tell)}>
          Delete
        </Button>
      )}
    </span>
  );
}
