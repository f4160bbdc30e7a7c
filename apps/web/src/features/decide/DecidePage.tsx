import { Link, Navigate, useNavigate, useParams } from 'react-router';
import { Page } from '../../shared/ui/Page.js';
import { useShortcut } from '../../shared/shortcuts/index.js';
import { HandOverTab } from './HandOverTab.js';
import { MoneyTab } from './MoneyTab.js';
import { ReportsTab } from './ReportsTab.js';
import { UsesTab } from './UsesTab.js';

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
  const navigate = useNavigate();
  TABS.forEach((name, k) => {
    // The number of tabs never changes, so neither does the order of hooks.
    // eslint-disable-next-line react-hooks/rules-of-hooks
    useShortcut(String(k + 1), `To ${WORDS[name][0]}`, () => void navigate(`/decide/${name}`));
  });
  if (!TABS.includes(tab as Tab)) return <Navigate to="/decide/uses" replace />;
  return (
    <Page title="Decide">
      <nav className="steps" aria-label="Parts of the decision">
        {TABS.map((name) => (
          <Link
            key={name}
            to={`/decide/${name}`}
            className={name === tab ? 'here' : ''}
            aria-current={name === tab ? 'step' : undefined}
          >
            <strong>{WORDS[name][0]}</strong>
            <span>{WORDS[name][1]}</span>
          </Link>
        ))}
      </nav>
      {tab === 'uses' && <UsesTab id={id} />}
      {tab === 'reports' && <ReportsTab id={id} />}
      {tab === 'data' && <HandOverTab />}
      {tab === 'money' && <MoneyTab setupId={id} />}
    </Page>
  );
}
