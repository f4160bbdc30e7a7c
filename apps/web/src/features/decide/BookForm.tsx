import { Button, Form, Input } from 'antd';
import { useState } from 'react';
import { moneyBookSchema, storedMoneyBookSchema, type StoredMoneyBook } from '@ebrix/contract';
import { ConflictChoice, storedMeanwhile, type Difference } from '../../shared/ui/ConflictChoice.js';
import { Lines } from '../../shared/ui/Lines.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { QuantityInput, readableNumber } from '../../shared/ui/QuantityInput.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { useSaveMoneyBookMutation } from './api.js';
import { IssueList } from './form-issues.js';

/** Currency, electricity, wear and what else the money would buy: the same for all setups. */
export function BookForm({ stored }: { readonly stored: StoredMoneyBook }) {
  const [form] = Form.useForm();
  const [base, setBase] = useState(stored);
  const [save, saving] = useSaveMoneyBookMutation();
  const { success } = useNotices();
  const [issues, setIssues] = useState<Parameters<typeof IssueList>[0]['issues']>([]);
  const meanwhile = storedMoneyBookSchema.safeParse(storedMeanwhile(saving.error));
  const store = async (version: number): Promise<void> => {
    const read = moneyBookSchema.safeParse(form.getFieldsValue(true));
    setIssues(read.error?.issues ?? []);
    if (!read.success) return;
    const { data } = await save({ version, book: read.data });
    if (!data) return;
    setBase(data);
    success('Saved.');
  };
  const differences = (): Difference[] => {
    if (!meanwhile.success) return [];
    const mine = form.getFieldsValue(true) as Record<string, unknown>;
    return (Object.keys(LABELS) as (keyof typeof LABELS)[])
      .map((key) => ({
        label: LABELS[key],
        theirs: JSON.stringify(meanwhile.data.book[key]),
        mine: JSON.stringify(mine[key]),
      }))
      .filter((row) => row.theirs !== row.mine);
  };
  return (
    <details className="section">
      <summary>
        <strong>Prices, wear and alternatives for all setups</strong>
      </summary>
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        initialValues={base.book}
        onFinish={() => void store(base.version)}
        className="mt-12 max-w-980"
      >
        <div className="field-grid">
          <Form.Item name="home" label={LABELS.home}>
            <Input maxLength={3} />
          </Form.Item>
          <Form.Item name="electricityPerKWh" label={LABELS.electricityPerKWh} rules={[readableNumber]}>
            <QuantityInput unit="level" />
          </Form.Item>
          <Form.Item name={['packCycles', 0]} label="Full cycles a pack lasts, from" rules={[readableNumber]}>
            <QuantityInput unit="level" />
          </Form.Item>
          <Form.Item name={['packCycles', 1]} label="to" rules={[readableNumber]}>
            <QuantityInput unit="level" />
          </Form.Item>
        </div>
        <h3 className="mt-12 mb-8">{LABELS.wear}</h3>
        <Lines
          name="wear"
          label={LABELS.wear}
          first={{ what: '', price: null, lastsKm: [null, null] }}
          add="Add a part"
          cells={[
            { name: 'what', label: 'Part' },
            { name: 'price', label: 'Price of a set', unit: 'level' },
            { name: ['lastsKm', 0], label: 'Lasts from', unit: 'km' },
            { name: ['lastsKm', 1], label: 'to', unit: 'km' },
          ]}
        />
        <h3 className="mt-12 mb-8">{LABELS.alternatives}</h3>
        <Lines
          name="alternatives"
          label={LABELS.alternatives}
          first={{ name: '', price: null, perHundredKm: [null, null] }}
          add="Add an alternative"
          cells={[
            { name: 'name', label: 'Name' },
            { name: 'price', label: 'To begin with', unit: 'level' },
            { name: ['perHundredKm', 0], label: '100 km from', unit: 'level' },
            { name: ['perHundredKm', 1], label: 'to', unit: 'level' },
          ]}
        />
        <h3 className="mt-12 mb-8">{LABELS.rates}</h3>
        <Lines
          name="rates"
          label={LABELS.rates}
          first={{ currency: '', inHome: null, day: '' }}
          add="Add a currency"
          cells={[
            { name: 'currency', label: 'Currency' },
            { name: 'inHome', label: 'One of it is worth', unit: 'level' },
            { name: 'day', label: 'On', isDay: true },
          ]}
        />
        {meanwhile.success ? (
          <ConflictChoice
            what="They were saved there since you opened them."
            differences={differences()}
            keepLabel="Overwrite with mine"
            takeLabel="Use the saved version"
            isBusy={saving.isLoading}
            onKeepMine={() => void store(meanwhile.data.version)}
            onTakeTheirs={() => {
              setBase(meanwhile.data);
              form.setFieldsValue(meanwhile.data.book);
              saving.reset();
            }}
          />
        ) : (
          saving.error !== undefined && <Problem error={saving.error} />
        )}
        <IssueList issues={issues} />
        <div className="actions mt-8">
          <Button type="primary" htmlType="submit" loading={saving.isLoading}>
            Save for all setups
          </Button>
        </div>
      </Form>
    </details>
  );
}

const LABELS = {
  home: 'Home currency',
  electricityPerKWh: 'Electricity, a kWh',
  packCycles: 'Full cycles a pack lasts',
  wear: 'Parts that wear',
  alternatives: 'What else the money buys, and doing without',
  rates: 'Other currencies',
} as const;
