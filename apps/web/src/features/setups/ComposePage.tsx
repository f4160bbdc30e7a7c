import { checkSetup, countChecks } from '@ebrix/core/bench';
import { Button, Checkbox, Form, Input } from 'antd';
import { useDeferredValue, useMemo, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { setupDetailSchema, type SetupDetail } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { QueryView, StaleNotice, Problem } from '../../shared/ui/QueryView.js';
import { ConflictChoice, storedMeanwhile } from '../../shared/ui/ConflictChoice.js';
import { Page } from '../../shared/ui/Page.js';
import { useDraft } from '../../shared/ui/use-draft.js';
import { FieldInput } from '../../entities/part/index.js';
import { useAddRevisionMutation, useAddSetupMutation, useGetSetupQuery } from '../../entities/setup/index.js';
import { AssistLevels } from './AssistLevels.js';
import { CheckList, countLabel } from './CheckList.js';
import { liveFacts, readSetup, revisionDifferences, toComposeValues, type ComposeValues } from './compose-values.js';
import { FrameDrawing } from './FrameDrawing.js';
import { PartSelect, useStock, type Stock } from './PartSelect.js';
import { RollUpStrip } from './RollUpView.js';
import { FIT_FIELDS, LOAD_FIELDS, SETTING_FIELDS, type SetupField } from './setup-fields.js';

/** Puts a setup together from parts, with its sums and checks beside it while one chooses. */
export default function ComposePage() {
  const { id } = useParams();
  // Asked for here, so that parts and setup come at the same time.
  const stock = useStock();
  return id === undefined ? <Compose stock={stock} /> : <Revise id={id} stock={stock} />;
}

function Revise({ id, stock }: { readonly id: string; readonly stock: Stock }) {
  const query = useGetSetupQuery(id);
  if (query.currentData)
    return (
      <>
        <StaleNotice query={query} />
        <Compose key={query.currentData.id} setup={query.currentData} stock={stock} />
      </>
    );
  return (
    <Page title="Setup" crumb={<Link to="/bench/setups">Bench</Link>}>
      <QueryView query={query}>{() => null}</QueryView>
    </Page>
  );
}

function Compose({ setup, stock }: { readonly setup?: SetupDetail; readonly stock: Stock }) {
  const navigate = useNavigate();
  const system = useUnits();
  const [form] = Form.useForm<ComposeValues>();
  // What this window began from: a revision that comes in from elsewhere must not move it.
  const [base] = useState(setup);
  const latest = base?.revisions[0];
  const draft = useDraft(`revision.${base?.id ?? 'new'}`, form);
  const [add, adding] = useAddSetupMutation();
  const [addRevision, revising] = useAddRevisionMutation();
  const [initial] = useState(() => toComposeValues(latest));
  // The form tells its values only once it stands there; the sums need not wait for that.
  const values = Form.useWatch((all) => all, { form, preserve: true }) ?? initial;
  const facts = useMemo(() => liveFacts(values, stock), [values, stock]);
  // The choice of parts and the sums are there at once; the many fields below follow.
  const isIdle = useDeferredValue(true, false);
  const error = adding.error ?? revising.error;
  const meanwhile = setupDetailSchema.safeParse(storedMeanwhile(error));
  const theirs = meanwhile.success ? meanwhile.data.revisions[0] : undefined;

  const submit = async (basedOn: number | null): Promise<void> => {
    const read = readSetup(form.getFieldsValue(true) as ComposeValues, { ...(base && { name: base.name }), basedOn });
    if (!read.ok) {
      form.setFields(read.problems.map(({ name, message }) => ({ name: name as never, errors: [message] })));
      form.scrollToField(read.problems[0]!.name);
      return;
    }
    const result = await (base
      ? addRevision({ id: base.id, revision: read.revision })
      : add({ name: read.name, notes: '', revision: read.revision }));
    if (!('data' in result) || !result.data) return;
    draft.clear();
    void navigate(`/bench/setups/${result.data.id}${read.revision.kitId === null ? '' : '/checks'}`);
  };
  const isBusy = adding.isLoading || revising.isLoading;
  return (
    <Page
      title={base ? `New revision of ${base.name}` : 'New setup'}
      crumb={
        <>
          <Link to="/bench/setups">Bench</Link>
          {base && (
            <>
              {' › '}
              <Link to={`/bench/setups/${base.id}`}>{base.name}</Link>
            </>
          )}
        </>
      }
    >
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        initialValues={initial}
        onValuesChange={draft.keep}
        onFinish={() => void submit(latest?.number ?? null)}
      >
        <div className="compose">
          <div>
            {!base && (
              <Form.Item
                name="name"
                label="Name"
                extra="As verdicts should name it, for example Corvane R2, 44 V rear hub"
              >
                <Input />
              </Form.Item>
            )}
            <h2>Parts</h2>
            <PartSelect form={form} kind="bikes" name="bikeId" label="Bike" stock={stock} />
            <PartSelect form={form} kind="kits" name="kitId" label="Kit" stock={stock} />
            {facts?.kit !== null && (
              <>
                <PartSelect
                  form={form}
                  kind="packs"
                  name="packIds"
                  label="Packs"
                  stock={stock}
                  isMultiple
                  extra="Several wired in parallel"
                />
                <PartSelect form={form} kind="chargers" name="chargerId" label="Charger" stock={stock} />
              </>
            )}
            <PartSelect form={form} kind="add-ons" name="addOnIds" label="Add-ons" stock={stock} isMultiple />
            <PartSelect
              form={form}
              kind="limits"
              name="limitsId"
              label="Limits to meet"
              stock={stock}
              extra="As you noted them; check your local rules"
            />
            {isIdle && (
              <>
                <Fields title="How it is fitted" fields={FIT_FIELDS} facts={facts} />
                <Fields title="Maximum load and electricity price" fields={LOAD_FIELDS} facts={facts} />
                {facts?.kit !== null && (
                  <>
                    <Fields title="Settings" fields={SETTING_FIELDS} facts={facts} />
                    <AssistLevels />
                    <Form.Item name={['settings', 'note']} label="Other settings">
                      <Input.TextArea rows={2} />
                    </Form.Item>
                  </>
                )}
                <h2 className="mt-8">{base ? 'This revision' : 'This first fitting'}</h2>
                <Form.Item name="change" label={base ? 'What changed' : 'What it is'}>
                  <Input placeholder={base ? 'For example: new tyres' : 'As first fitted'} />
                </Form.Item>
                <Form.Item name="why" label="Why">
                  <Input placeholder="For whoever reads it next year" />
                </Form.Item>
                {base && (
                  <Form.Item
                    name="isRefitted"
                    valuePropName="checked"
                    extra="Otherwise what the change does not touch stays passed or waived, with its name and day."
                  >
                    <Checkbox>Something was taken apart for it: look at everything again</Checkbox>
                  </Form.Item>
                )}
              </>
            )}
            {theirs && facts ? (
              <ConflictChoice
                what={`Revision ${theirs.number} was saved meanwhile: “${theirs.change}”.`}
                differences={revisionDifferences(theirs, facts, system)}
                keepLabel={`Save mine as revision ${theirs.number + 1}`}
                takeLabel={`Keep revision ${theirs.number}, drop mine`}
                isBusy={isBusy}
                onKeepMine={() => void submit(theirs.number)}
                onTakeTheirs={() => {
                  draft.clear();
                  void navigate(`/bench/setups/${base!.id}`);
                }}
              />
            ) : (
              error !== undefined && <Problem error={error} />
            )}
            <div className="actions mt-12">
              {!theirs && (
                <Button type="primary" htmlType="submit" loading={isBusy}>
                  {base ? `Save as revision ${latest!.number + 1}` : 'Save setup'}
                </Button>
              )}
              <Button
                onClick={() => {
                  draft.clear();
                  void navigate(base ? `/bench/setups/${base.id}` : '/bench/setups');
                }}
              >
                Cancel
              </Button>
            </div>
          </div>
          <Live facts={facts} />
        </div>
      </Form>
    </Page>
  );
}

/** Sums and checks of what is chosen, as one chooses. */
function Live({ facts }: { readonly facts: ReturnType<typeof liveFacts> }) {
  const checks = useMemo(() => (facts ? checkSetup(facts) : []), [facts]);
  if (!facts)
    return (
      <aside className="live" aria-label="Sums and checks">
        <p className="quiet">
          Choose a bike and a kit: masses, money, range and all checks appear here while you choose.
        </p>
      </aside>
    );
  return (
    // Long lists of checks are scrolled, by the keyboard too.
    <aside className="live" aria-label="Sums and checks" tabIndex={0}>
      <RollUpStrip facts={facts} />
      {facts.kit === null ? (
        <p className="quiet mt-18">
          Without a kit there is nothing to check here. Its runs are the baseline: the same course with your legs alone.
        </p>
      ) : (
        <>
          <h2 className="mt-18 mb-6 mx-0">Checks: {countLabel(countChecks(checks))}</h2>
          <CheckList checks={checks} isBrief />
        </>
      )}
      <FrameDrawing facts={facts} />
    </aside>
  );
}

function Fields({
  title,
  fields,
  facts,
}: {
  readonly title: string;
  readonly fields: readonly SetupField[];
  readonly facts: ReturnType<typeof liveFacts>;
}) {
  // Before parts are chosen, what only some parts ask for is left out.
  const shown = fields.filter(({ when }) => !when || (facts !== undefined && when(facts)));
  if (shown.length === 0) return null;
  return (
    <section aria-label={title}>
      <h2>{title}</h2>
      <div className="field-grid">
        {shown.map(({ when: _when, of, ...field }) => (
          <FieldInput key={field.name} field={field} prefix={[of]} />
        ))}
      </div>
    </section>
  );
}
