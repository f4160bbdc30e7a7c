import { countChecks, openClearance } from '@ebrix/core/bench';
import { Button, Input } from 'antd';
import { useDeferredValue, useMemo, useState } from 'react';
import { Link, Navigate, useNavigate, useParams } from 'react-router';
import type { SetupDetail } from '@ebrix/contract';
import { useNotices } from '../../shared/ui/use-notices.js';
import { QueryView, StaleNotice, Problem } from '../../shared/ui/QueryView.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { Page } from '../../shared/ui/Page.js';
import { useShortcut } from '../../shared/shortcuts/index.js';
import { SetupFigures } from '../../entities/run/index.js';
import { Photos } from '../../entities/photo/index.js';
import {
  useArchiveSetupMutation,
  useChangeSetupMutation,
  useCopySetupMutation,
  useGetSetupQuery,
} from '../../entities/setup/index.js';
import { countLabel } from './CheckList.js';
import { ClaimsTable } from './ClaimsTable.js';
import { assess, type SetupAssessment, NO_KIT } from './facts.js';
import { FrameDrawing } from './FrameDrawing.js';
import { HistoryTab } from './HistoryTab.js';
import { RollUpStrip, RollUpTables } from './RollUpView.js';
import { SettingsSheet } from './SettingsSheet.js';
import { tabs as pieces } from './tabs.js';

const CRUMB = <Link to="/bench/setups">Bench</Link>;
const TABS = [
  'parts',
  'checks',
  'fitting',
  'settings',
  'stand',
  'clearance',
  'history',
  'figures',
  'experience',
  // Last, so that the keys of the others stay what they were.
  'box',
  'life',
] as const;
type Tab = (typeof TABS)[number];
/** What a bike before conversion has none of. */
const OF_A_KIT: readonly Tab[] = ['checks', 'fitting', 'box', 'settings', 'stand', 'life'];
const TAB_NAMES: Readonly<Record<Tab, string>> = {
  parts: 'Parts',
  checks: 'Checks',
  fitting: 'Fitting',
  box: 'Box and wires',
  settings: 'Settings',
  stand: 'Stand',
  clearance: 'Before you ride',
  history: 'History',
  figures: 'Figures',
  experience: 'How it felt',
  life: 'Life',
};
const keyOf = (place: number): string => (place < 10 ? String((place + 1) % 10) : 'l');

export default function SetupPage() {
  const { id = '', tab = 'parts' } = useParams();
  const query = useGetSetupQuery(id);
  // The name this tab had before; links to it still lead here.
  if (tab === 'gates') return <Navigate to={`/bench/setups/${id}/clearance`} replace />;
  if (!TABS.includes(tab as Tab)) return <Navigate to={`/bench/setups/${id}`} replace />;
  if (query.currentData)
    return (
      <>
        <StaleNotice query={query} />
        <SetupView key={query.currentData.id} setup={query.currentData} tab={tab as Tab} />
      </>
    );
  return (
    <Page title="Setup" crumb={CRUMB}>
      <QueryView query={query}>{() => null}</QueryView>
    </Page>
  );
}

function SetupView({ setup, tab }: { readonly setup: SetupDetail; readonly tab: Tab }) {
  const navigate = useNavigate();
  const latest = setup.revisions[0]!;
  const assessment = useMemo(() => assess(latest), [latest]);
  const words = tabLabels(setup, assessment);
  const tabs = TABS.filter((name) => latest.kit !== null || !OF_A_KIT.includes(name));
  const to = (name: Tab): string => `/bench/setups/${setup.id}${name === 'parts' ? '' : `/${name}`}`;
  TABS.forEach((name, k) => {
    // The number of tabs never changes, so neither does the order of hooks.
    // oxlint-disable-next-line react/rules-of-hooks
    useShortcut(keyOf(k), `To ${TAB_NAMES[name]}`, () => void navigate(to(name)));
  });
  useShortcut('e', 'Change this setup', () => void navigate(`/bench/setups/${setup.id}/edit`));
  if (!tabs.includes(tab)) return <Navigate to={to('parts')} replace />;
  return (
    <Page title={setup.name} crumb={CRUMB} actions={<Actions setup={setup} />}>
      <nav className="steps" aria-label="Steps of the setup">
        {tabs.map((name) => (
          <Link
            key={name}
            to={to(name)}
            className={name === tab ? 'here' : ''}
            aria-current={name === tab ? 'step' : undefined}
          >
            <strong>{TAB_NAMES[name]}</strong>
            <span>{words[name]}</span>
          </Link>
        ))}
      </nav>
      {tab === 'parts' && <PartsTab setup={setup} assessment={assessment} />}
      {tab === 'checks' && <pieces.checks.Part setup={setup} checks={assessment.checks} />}
      {tab === 'settings' && <SettingsSheet setup={setup} />}
      {tab === 'clearance' && <pieces.clearance.Part setup={setup} items={assessment.items} />}
      {tab === 'figures' && <SetupFigures setupId={setup.id} />}
      {tab === 'history' && <HistoryTab setup={setup} />}
      {tab === 'fitting' && <pieces.fitting.Part setup={setup} />}
      {tab === 'box' && <pieces.box.Part setup={setup} />}
      {tab === 'stand' && <pieces.stand.Part setup={setup} />}
      {tab === 'experience' && <pieces.experience.Part setup={setup} />}
      {tab === 'life' && <pieces.life.Part subject={{ kind: 'setup', id: setup.id }} />}
    </Page>
  );
}

function tabLabels(setup: SetupDetail, { checks, items }: SetupAssessment): Record<Tab, string> {
  const latest = setup.revisions[0]!;
  const open = openClearance(items).length;
  return {
    parts: `${latest.bike.name}, ${latest.kit?.name ?? NO_KIT.toLowerCase()}`,
    checks: countLabel(countChecks(checks)),
    fitting: 'steps, time, tools',
    box: 'what came, what goes where',
    settings: latest.settings.assistLevel ? `level ${latest.settings.assistLevel}` : 'display and controller',
    stand: 'wheel, speed, mass',
    clearance: open === 0 ? 'may be ridden' : `${open} of ${items.length} to do`,
    history: `revision ${latest.number}`,
    figures: 'figures from its runs',
    experience: 'words of its riders',
    life: 'km, faults, service',
  };
}

function Actions({ setup }: { readonly setup: SetupDetail }) {
  const navigate = useNavigate();
  const [named, setNamed] = useState<{ readonly for: 'rename' | 'copy'; readonly name: string }>();
  const [change] = useChangeSetupMutation();
  const [archive] = useArchiveSetupMutation();
  const [copy] = useCopySetupMutation();
  const { failure } = useNotices();
  const save = async (): Promise<void> => {
    if (!named) return;
    if (named.for === 'rename') {
      if (failure(await change({ stored: setup, name: named.name, notes: setup.notes }))) return;
    } else {
      const copied = await copy({ id: setup.id, name: named.name });
      if (failure(copied)) return;
      if (copied.data) void navigate(`/bench/setups/${copied.data.id}`);
    }
    setNamed(undefined);
  };
  if (named)
    return (
      <form
        className="actions"
        onSubmit={(event) => {
          event.preventDefault();
          void save();
        }}
      >
        <Input
          aria-label={named.for === 'rename' ? 'New name' : 'Name of the copy'}
          className="w-300"
          value={named.name}
          autoFocus
          onChange={({ target }) => setNamed({ ...named, name: target.value })}
        />
        <Button type="primary" htmlType="submit">
          {named.for === 'rename' ? 'Save name' : 'Duplicate'}
        </Button>
        <Button onClick={() => setNamed(undefined)}>Cancel</Button>
      </form>
    );
  return (
    <>
      <Button onClick={() => setNamed({ for: 'rename', name: setup.name })}>Rename</Button>
      <Button onClick={() => setNamed({ for: 'copy', name: `${setup.name}, copy` })}>Duplicate</Button>
      <Button href={`/api/setups/${setup.id}/file`} download={`${setup.name}.json`}>
        Save as file
      </Button>
      <Button onClick={() => void archive({ stored: setup, archived: setup.archivedAt === null }).then(failure)}>
        {setup.archivedAt ? 'Restore' : 'Archive'}
      </Button>
      {setup.revisions[0]?.parts.kit && <LinkButton to={`/forecast?with=${setup.id}`} label="Forecast" />}
      <LinkButton to={`/bench/setups/${setup.id}/toolbox`} label="Toolbox sheet" />
      <LinkButton isMain to={`/bench/setups/${setup.id}/edit`} label="Change" />
    </>
  );
}

function PartsTab({ setup, assessment }: { readonly setup: SetupDetail; readonly assessment: SetupAssessment }) {
  // The sums are there at once; what stands below them follows without holding them up.
  const isIdle = useDeferredValue(true, false);
  return (
    <>
      <RollUpStrip facts={assessment.facts} />
      {isIdle && <PartsBelow setup={setup} assessment={assessment} />}
    </>
  );
}

function PartsBelow({ setup, assessment }: { readonly setup: SetupDetail; readonly assessment: SetupAssessment }) {
  const { parts } = setup.revisions[0]!;
  const rows = [
    ['Bike', [parts.bike]],
    ['Kit', [parts.kit ?? { name: NO_KIT }]],
    ['Packs', parts.packs],
    ['Charger', parts.charger ? [parts.charger] : []],
    ['Add-ons', parts.addOns],
    ['Limits to meet', parts.limits ? [parts.limits] : []],
  ] as const;
  return (
    <>
      <div className="columns section">
        <section>
          <h2>Parts of this revision</h2>
          <table className="rows">
            <tbody>
              {rows.map(([label, list]) => (
                <tr key={label}>
                  <th scope="row" className="pair">
                    {label}
                  </th>
                  <td>{list.map(({ name }) => name).join(', ') || <span className="quiet">none chosen</span>}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <Notes key={setup.version} setup={setup} />
          <ClaimsTable setup={setup} />
        </section>
        <section>
          <FrameDrawing facts={assessment.facts} />
          <h2 className="mt-18">Photos of the fit</h2>
          <Photos owner="setup" ownerId={setup.id} />
        </section>
      </div>
      <div className="section">
        <RollUpTables setupId={setup.id} facts={assessment.facts} />
      </div>
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
    </>
  );
}

/** Free words about the setup. */
function Notes({ setup }: { readonly setup: SetupDetail }) {
  const [text, setText] = useState(setup.notes);
  const [change, { error, isLoading }] = useChangeSetupMutation();
  const isChanged = text !== setup.notes;
  return (
    <div className="mt-12 grid gap-6 justify-items-start">
      <Input.TextArea
        aria-label="Notes on this setup"
        placeholder="Notes on this setup"
        autoSize={{ minRows: 2, maxRows: 10 }}
        maxLength={4000}
        value={text}
        onChange={({ target }) => setText(target.value)}
      />
      {isChanged && (
        <Button
          size="small"
          loading={isLoading}
          onClick={() => void change({ stored: setup, name: setup.name, notes: text })}
        >
          Save the notes
        </Button>
      )}
      {error !== undefined && <Problem error={error} />}
    </div>
  );
}
