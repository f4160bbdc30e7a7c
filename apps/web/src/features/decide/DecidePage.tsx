import { Navigate, useParams } from 'react-router';
import { Page } from '../../shared/ui/Page.js';
import { StepNav } from '../../shared/ui/StepNav.js';
import { tabs } from './tabs.js';

const TABS = ['uses', 'money', 'reports', 'data'] as const;
type Tab = (typeof TABS)[number];
const WORDS: Readonly<Record<Tab, readonly [name: string, says: string]>> = {
  uses: ['Which one for which use', 'what has to be kept, what counts'],
  money: ['Money', 'purchases, 100 km, when it has paid'],
  reports: ['Reports', 'for a customer, and for a doubter'],
  data: ['Hand over', 'data out, and in again'],
};

/** From verdict to decision: uses and money. */
export default function DecidePage() {
  const { tab = 'uses', id } = useParams();
  if (!TABS.includes(tab as Tab)) return <Navigate to="/decide/uses" replace />;
  return (
    <Page title="Decide">
      <StepNav
        label="Parts of the decision"
        here={tab}
        steps={TABS.map((key) => ({ key, to: `/decide/${key}`, name: WORDS[key][0], says: WORDS[key][1] }))}
      />
      {tab === 'uses' && <tabs.uses.Part id={id} />}
      {tab === 'reports' && <tabs.reports.Part id={id} />}
      {tab === 'data' && <tabs.data.Part />}
      {tab === 'money' && <tabs.money.Part setupId={id} />}
    </Page>
  );
}
