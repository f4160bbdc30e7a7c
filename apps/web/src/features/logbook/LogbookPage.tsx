import { Link, Navigate, useParams } from 'react-router';
import { useListPartsQuery } from '../../entities/part/index.js';
import { Page } from '../../shared/ui/Page.js';
import { StepNav } from '../../shared/ui/StepNav.js';
import { tabs } from './tabs.js';

const TABS = ['entries', 'due', 'faults', 'conversions', 'intervals'] as const;
type Tab = (typeof TABS)[number];
const WORDS: Readonly<Record<Tab, readonly [name: string, says: string]>> = {
  entries: ['Entries', 'what happened, bike by bike'],
  due: ['Due', 'service, and who is to be asked'],
  faults: ['Faults', 'how many, how often, on which kit'],
  conversions: ['Out of sight', 'conversions that are not tested'],
  intervals: ['Intervals', 'after how many km and days'],
};

/** Life after fitting. */
export default function LogbookPage() {
  const { tab = 'entries', id } = useParams();
  if (tab === 'bikes' && id !== undefined) return <BikePage id={id} />;
  if (!TABS.includes(tab as Tab)) return <Navigate to="/logbook/entries" replace />;
  return (
    <Page title="Logbook">
      <StepNav
        label="Parts of the logbook"
        here={tab}
        steps={TABS.map((key) => ({ key, to: `/logbook/${key}`, name: WORDS[key][0], says: WORDS[key][1] }))}
      />
      {tab === 'entries' && <tabs.entries.Part />}
      {tab === 'due' && <tabs.due.Part />}
      {tab === 'faults' && <tabs.faults.Part />}
      {tab === 'conversions' && <tabs.conversions.Part id={id} />}
      {tab === 'intervals' && <tabs.intervals.Part />}
    </Page>
  );
}

/** A bike on its own, whatever was fitted to it. */
function BikePage({ id }: { readonly id: string }) {
  const { data: bikes } = useListPartsQuery('bikes');
  const name = bikes?.find((bike) => bike.id === id)?.name ?? 'Bike';
  return (
    <Page title={name} crumb={<Link to="/bench/bikes">Bikes</Link>}>
      <tabs.bikes.Part subject={{ kind: 'bike', id }} />
    </Page>
  );
}
