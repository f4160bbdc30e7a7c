import { Button, Drawer, Form } from 'antd';
import { partSchemas, type Part, type PartInput, type PartKind } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { ConflictChoice, storedMeanwhile, type Difference } from '../../shared/ui/ConflictChoice.js';
import { useDraft } from '../../shared/ui/use-draft.js';
import { useSavePartMutation } from './api.js';
import { FieldInput } from './FieldInput.js';
import { fieldsOf, PART_FORMS } from './part-fields.js';
import { partValueText } from './part-text.js';
import { fromFormValues, toFormValues, valueAt } from './part-values.js';

interface Props {
  readonly kind: PartKind;
  readonly part: Part | undefined;
  readonly onDone: (saved: Part | undefined) => void;
}

/** One form for every kind of part: the fields come from a table, the rules from the contract. */
export function PartForm({ kind, part, onDone }: Props) {
  const [form] = Form.useForm<Record<string, unknown>>();
  const draft = useDraft(`${kind}.${part?.id ?? 'new'}`, form);
  const [save, { isLoading, error, reset }] = useSavePartMutation();
  const system = useUnits();
  const words = PART_FORMS[kind];
  const values = Form.useWatch((all) => all, { form, preserve: true });
  const theirs = parseStored(kind, storedMeanwhile(error));

  const submit = async (stored: Part | undefined): Promise<void> => {
    const read = fromFormValues(kind, form.getFieldsValue(true) as Record<string, unknown>);
    if (!read.ok) {
      form.setFields(read.problems.map(({ name, message }) => ({ name, errors: [message] })));
      form.scrollToField(read.problems[0]!.name);
      return;
    }
    const result = await save({ kind, input: read.input, ...(stored && { stored }) });
    if (!('data' in result) || !result.data) return;
    draft.clear();
    onDone(result.data);
  };
  const takeTheirs = (stored: Part): void => {
    draft.clear();
    onDone(stored);
  };
  return (
    <Drawer
      open
      title={part ? part.name : `New ${words.one}`}
      onClose={() => onDone(undefined)}
      size={words.groups.length > 1 ? 720 : 430}
    >
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        initialValues={toFormValues(kind, part)}
        onValuesChange={draft.keep}
        onFinish={() => void submit(part)}
      >
        {words.groups.map(({ title, use, fields }) => {
          const shown = fields.filter(({ when }) => !when || when(values ?? {}));
          if (shown.length === 0) return null;
          return (
            <section key={title} className="form-group" aria-label={title}>
              {words.groups.length > 1 && (
                <h3>
                  {title} {use && <span className="quiet">{use}</span>}
                </h3>
              )}
              <div className={words.groups.length > 1 ? 'field-grid' : ''}>
                {shown.map((field) => (
                  <FieldInput key={field.name} field={field} />
                ))}
              </div>
            </section>
          );
        })}
        {theirs ? (
          <ConflictChoice
            what={`“${theirs.name}” was saved while you were typing here.`}
            differences={differencesOf(kind, theirs, form.getFieldsValue(true) as Record<string, unknown>, system)}
            keepLabel="Overwrite with mine"
            takeLabel="Use the saved version"
            isBusy={isLoading}
            onKeepMine={() => void submit(theirs)}
            onTakeTheirs={() => takeTheirs(theirs)}
          />
        ) : (
          error !== undefined && <Problem error={error} />
        )}
        <div className="actions mt-12">
          {!theirs && (
            <Button type="primary" htmlType="submit" loading={isLoading}>
              Save
            </Button>
          )}
          <Button
            onClick={() => {
              reset();
              draft.clear();
              onDone(undefined);
            }}
          >
            Cancel
          </Button>
        </div>
      </Form>
    </Drawer>
  );
}

function parseStored(kind: PartKind, current: unknown): Part | undefined {
  const parsed = partSchemas[kind].safeParse(current);
  return parsed.success ? parsed.data : undefined;
}

function differencesOf(
  kind: PartKind,
  theirs: Part,
  typed: Record<string, unknown>,
  system: ReturnType<typeof useUnits>,
): Difference[] {
  const read = fromFormValues(kind, typed);
  const mine: PartInput | Record<string, unknown> = read.ok ? read.input : typed;
  return fieldsOf(kind)
    .map((field) => ({
      label: field.label,
      theirs: partValueText(field, valueAt(theirs, field.name), system),
      mine: partValueText(field, valueAt(mine, field.name), system),
    }))
    .filter((one) => one.theirs !== one.mine);
}
