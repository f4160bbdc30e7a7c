import { Select } from 'antd';
import { Link, useNavigate } from 'react-router';
import { useListSetupsQuery } from '../../entities/setup/index.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { useCostsOfSetupQuery, useGetMoneyBookQuery } from './api.js';
import { BookForm } from './BookForm.js';
import { Costs } from './Costs.js';
import { PurchasesForm } from './PurchasesForm.js';

/** What one setup costs, and below it what is the same for all. */
export function MoneyTab({ setupId }: { readonly setupId: string | undefined }) {
  const setups = useListSetupsQuery();
  return (
    <QueryView query={setups}>
      {(all) => {
        const shown = all.filter(({ archivedAt, id }) => archivedAt === null || id === setupId);
        const id = setupId ?? shown[0]?.id;
        if (id === undefined)
          return (
            <div className="teach">
              <p>No setup yet: there is nothing to add up.</p>
              <Link to="/bench/setups">To the setups</Link>
            </div>
          );
        return <OfSetup key={id} setupId={id} choices={shown.map((one) => ({ value: one.id, label: one.name }))} />;
      }}
    </QueryView>
  );
}

interface Props {
  readonly setupId: string;
  readonly choices: readonly { readonly value: string; readonly label: string }[];
}
function OfSetup({ setupId, choices }: Props) {
  const navigate = useNavigate();
  const costs = useCostsOfSetupQuery(setupId, { refetchOnMountOrArgChange: true });
  const book = useGetMoneyBookQuery();
  return (
    <>
      <label className="setup-chosen">
        <span>Setup</span>
        <Select
          value={setupId}
          options={[...choices]}
          showSearch
          optionFilterProp="label"
          aria-label="Setup"
          onChange={(id: string) => void navigate(`/decide/money/${id}`)}
        />
      </label>
      <QueryView query={costs}>
        {(found) => (
          <>
            <Costs costs={found} />
            <PurchasesForm stored={found} />
          </>
        )}
      </QueryView>
      <QueryView query={book}>{(stored) => <BookForm stored={stored} />}</QueryView>
    </>
  );
}
