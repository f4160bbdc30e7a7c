import { Navigate, useParams } from 'react-router';
import { Page } from '../../shared/ui/Page.js';
import { StepNav } from '../../shared/ui/StepNav.js';
import { tabs } from './tabs.js';

const TABS = ['people', 'backups', 'deleted', 'history'] as const;
type Tab = (typeof TABS)[number];
const WORDS: Readonly<Record<Tab, readonly [name: string, says: string]>> = {
  people: ['People', 'who may come in, and by what'],
  backups: ['Backups', 'how old, and whether they are good'],
  deleted: ['Deleted', 'for a month, and the way back'],
  history: ['History', 'who did what'],
};

/** What keeps this installation safe: people, copies, what was deleted, what was done. */
export default function UpkeepPage() {
  const { tab = 'people' } = useParams();
  if (!TABS.includes(tab as Tab)) return <Navigate to="/upkeep/people" replace />;
  return (
    <Page title="Upkeep">
      <StepNav
        label="Parts of the upkeep"
        here={tab}
        steps={TABS.map((key) => ({ key, to: `/upkeep/${key}`, name: WORDS[key][0], says: WORDS[key][1] }))}
      />
      {tab === 'people' && <tabs.people.Part />}
      {tab === 'backups' && <tabs.backups.Part />}
      {tab === 'deleted' && <tabs.deleted.Part />}
      {tab === 'history' && <tabs.history.Part />}
    </Page>
  );
}
