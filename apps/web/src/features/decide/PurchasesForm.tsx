import { PURCHASE_KINDS, type PurchaseKind } from '@ebrix/core/costs';
import { Button, Form } from 'antd';
import { useState } from 'react';
import { purchasesPutSchema, setupCostsSchema, type PurchaseLineDto, type SetupCosts } from '@ebrix/contract';
import { ConflictChoice, storedMeanwhile, type Difference } from '../../shared/ui/ConflictChoice.js';
import { Lines, Section } from '../../shared/ui/Lines.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { useDraft } from '../../shared/ui/use-draft.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { useSavePurchasesMutation } from './api.js';
import { IssueList } from './form-issues.js';
import { lineOfForm, lineToForm, purchaseDifferences, type FormLine } from './purchase-lines.js';

const KINDS: Readonly<Record<PurchaseKind, string>> = {
  part: 'Part',
  tool: 'Tool',
  consumable: 'Consumable',
  shipping: 'Shipping',
  duty: 'Duty',
  discount: 'Discount',
  return: 'Return',
};
const SOURCES = [
  { value: 'bought', label: 'Bought' },
  { value: 'owned', label: 'Had it' },
  { value: 'borrowed', label: 'Borrowed' },
];

/** The purchase list of one setup; it begins with its parts. */
export function PurchasesForm({ stored }: { readonly stored: SetupCosts }) {
  const [form] = Form.useForm<{ lines: FormLine[] }>();
  const [base, setBase] = useState(stored);
  const draft = useDraft(`purchases.${stored.setupId}`, form);
  const [save, saving] = useSavePurchasesMutation();
  const { success } = useNotices();
  const [issues, setIssues] = useState<Parameters<typeof IssueList>[0]['issues']>([]);
  const meanwhile = setupCostsSchema.safeParse(storedMeanwhile(saving.error));
  const mine = (): PurchaseLineDto[] =>
    ((form.getFieldValue('lines') ?? []) as FormLine[]).map((line) => lineOfForm(line, stored.sums.home));
  const store = async (version: number): Promise<void> => {
    const read = purchasesPutSchema.shape.lines.safeParse(mine());
    setIssues(read.error?.issues ?? []);
    if (!read.success) return;
    const { data } = await save({ setupId: stored.setupId, version, lines: read.data });
    if (!data) return;
    draft.clear();
    setBase(data);
    success('Saved.');
  };
  const differences = (): Difference[] => (meanwhile.success ? purchaseDifferences(meanwhile.data.lines, mine()) : []);
  return (
    <Section
      title="Purchases"
      say="Every line as bought. A discount and a return take off; what you had or borrowed costs nothing."
    >
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        initialValues={{ lines: base.lines.map(lineToForm) }}
        onValuesChange={() => draft.keep()}
        onFinish={() => void store(base.version)}
      >
        <Lines
          name="lines"
          label="Purchases"
          className="of-purchases"
          first={{
            what: '',
            kind: 'part',
            source: 'bought',
            amount: null,
            currency: stored.sums.home,
            sharedBy: 1,
            isOfBike: false,
          }}
          add="Add a line"
          cells={[
            { name: 'what', label: 'What' },
            { name: 'kind', label: 'Kind', choices: PURCHASE_KINDS.map((value) => ({ value, label: KINDS[value] })) },
            { name: 'source', label: 'How got', choices: SOURCES },
            { name: 'amount', label: 'Price', unit: 'level' },
            { name: 'currency', label: 'Currency' },
            { name: 'sharedBy', label: 'Shared by', unit: 'level' },
            {
              name: 'isOfBike',
              label: 'Belongs to',
              choices: [
                { value: false, label: 'Conversion' },
                { value: true, label: 'Bike' },
              ],
            },
          ]}
        />
        {meanwhile.success ? (
          <ConflictChoice
            what="The list was saved there since you opened it."
            differences={differences()}
            keepLabel="Overwrite with mine"
            takeLabel="Use the saved version"
            isBusy={saving.isLoading}
            onKeepMine={() => void store(meanwhile.data.version)}
            onTakeTheirs={() => {
              draft.clear();
              setBase(meanwhile.data);
              form.setFieldValue('lines', meanwhile.data.lines.map(lineToForm));
              saving.reset();
            }}
          />
        ) : (
          saving.error !== undefined && <Problem error={saving.error} />
        )}
        <IssueList issues={issues} />
        <div className="actions mt-8">
          <Button type="primary" htmlType="submit" loading={saving.isLoading}>
            Save the purchases
          </Button>
        </div>
      </Form>
    </Section>
  );
}
