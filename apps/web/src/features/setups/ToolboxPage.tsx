import { Button } from 'antd';
import { lazy, Suspense, useMemo } from 'react';
import { Link, useParams } from 'react-router';
import type { SetupDetail } from '@ebrix/contract';
import { QueryView } from '../../shared/ui/QueryView.js';
import { Page } from '../../shared/ui/Page.js';
import { useShortcut } from '../../shared/shortcuts/index.js';
import { useGetSetupQuery } from '../../entities/setup/index.js';
import { assess, NO_KIT } from './facts.js';
import { RollUpStrip } from './RollUpView.js';
import { SentenceText } from '../../shared/ui/SentenceText.js';
import { SettingsSheet } from './SettingsSheet.js';

const ToolboxRecord = lazy(() => import('../fitting/ToolboxRecord.js'));

/** One sheet for the toolbox: parts, settings, what was waived, and the safety checks with room to tick them. */
export default function ToolboxPage() {
  const { id = '' } = useParams();
  const query = useGetSetupQuery(id);
  useShortcut('p', 'Print this sheet', () => window.print());
  return (
    <Page
      title={query.currentData ? `Toolbox sheet: ${query.currentData.name}` : 'Toolbox sheet'}
      crumb={
        <>
          <Link to="/bench/setups">Bench</Link> ›{' '}
          <Link to={`/bench/setups/${id}`}>{query.currentData?.name ?? 'Setup'}</Link>
        </>
      }
      actions={
        <Button type="primary" onClick={() => window.print()}>
          Print
        </Button>
      }
    >
      <QueryView query={query}>{(setup) => <Sheet setup={setup} />}</QueryView>
    </Page>
  );
}

function Sheet({ setup }: { readonly setup: SetupDetail }) {
  const revision = setup.revisions[0]!;
  const { checks, items, facts } = useMemo(() => assess(revision), [revision]);
  const notPassed = checks.filter(({ state }) => state !== 'passed');
  const { bike, kit, packs, charger, addOns, limits } = revision.parts;
  return (
    <div className="sheet toolbox">
      <p>
        Revision {revision.number} of {new Date(revision.createdAt).toLocaleDateString()}: {bike.name};{' '}
        {kit?.name ?? NO_KIT}
        {packs.length > 0 && '; '}
        {[...packs, ...(charger ? [charger] : []), ...addOns].map(({ name }) => name).join('; ')}
        {limits && `. Limits: ${limits.name}`}.
      </p>
      <RollUpStrip facts={facts} />
      <div className="columns">
        <section>
          <h2>Before you ride</h2>
          <ol className="clearance">
            {items.map(({ id, title, what, state, mark }) => (
              <li key={id}>
                <strong>
                  {state === 'open' ? '☐' : state === 'passed' ? '☑' : '☒'} {title}
                  {state === 'waived' && ' (waived)'}
                </strong>
                <div>
                  <SentenceText of={what} />
                </div>
                {mark && (
                  <div className="quiet">
                    {mark.by}, {new Date(mark.at).toLocaleDateString()}
                    {mark.reason && `: ${mark.reason}`}
                  </div>
                )}
              </li>
            ))}
          </ol>
        </section>
        <section>
          <h2>Settings</h2>
          <SettingsSheet setup={setup} isPrinted />
          <Suspense fallback={null}>
            <ToolboxRecord setupId={setup.id} />
          </Suspense>
          <h2 className="mt-16">Checks failed, open or waived</h2>
          {notPassed.length === 0 ? (
            <p>None: all {checks.length} passed.</p>
          ) : (
            <ul className="m-0 pl-18">
              {notPassed.map(({ id, title, state, mark }) => (
                <li key={id}>
                  {title}: {state}
                  {mark && ` by ${mark.by}: ${mark.reason}`}
                </li>
              ))}
            </ul>
          )}
          <p className="section">
            <strong>Check your local rules.</strong> Beyond the limits written down here: private ground only. Lithium
            packs: own charger only, in sight, never below freezing, never opened.
          </p>
        </section>
      </div>
    </div>
  );
}
