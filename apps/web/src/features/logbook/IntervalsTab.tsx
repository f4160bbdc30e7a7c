import { LIFE_PART_KEYS, LIFE_PARTS, USUAL_SERVICE, USUAL_STAGES } from '@ebrix/core/life';
import { Button, Form } from 'antd';
import { useState } from 'react';
import { logbookSettingsSchema, type LogbookSettings } from '@ebrix/contract';
import { useLogbookSettingsQuery, useSaveLogbookSettingsMutation } from '../../entities/life/index.js';
import { ConflictChoice, storedMeanwhile } from '../../shared/ui/ConflictChoice.js';
import { Lines, Section } from '../../shared/ui/Lines.js';
import { Problem, QueryView } from '../../shared/ui/QueryView.js';
import { QuantityInput, readableNumber } from '../../shared/ui/QuantityInput.js';
import { useNotices } from '../../shared/ui/use-notices.js';

const DRIVES = [
  { value: 'any', label: 'any' },
  { value: 'hub', label: 'hub motor' },
  { value: 'mid', label: 'mid motor' },
];
const PARTS = LIFE_PART_KEYS.map((value) => ({ value, label: LIFE_PARTS[value].label }));

/** Service intervals by part and drive, when riders are asked again, and what share of its label ends a pack. */
export function IntervalsTab() {
  const query = useLogbookSettingsQuery();
  return <QueryView query={query}>{(stored) => <IntervalsForm key={stored.version} stored={stored} />}</QueryView>;
}

type Fields = Pick<LogbookSettings, 'items' | 'lowestPackShare' | 'stages'>;
function IntervalsForm({ stored }: { readonly stored: LogbookSettings }) {
  const [form] = Form.useForm<Fields>();
  const [save, saving] = useSaveLogbookSettingsMutation();
  const [issues, setIssues] = useState<readonly string[]>([]);
  const { success } = useNotices();
  const meanwhile = logbookSettingsSchema.safeParse(storedMeanwhile(saving.error));
  const store = async (version: number): Promise<void> => {
    const typed = form.getFieldsValue(true) as Fields;
    const named = <T extends { id?: string }>(list: readonly T[]): T[] =>
      list.map((one) => ({ ...one, id: one.id ?? crypto.randomUUID() }));
    const read = logbookSettingsSchema.safeParse({
      version,
      items: named(typed.items).map((item) => ({
        ...item,
        firstKm: item.firstKm ?? null,
        everyKm: item.everyKm ?? null,
        everyDays: item.everyDays ?? null,
      })),
      stages: named(typed.stages).map((stage) => ({
        ...stage,
        afterKm: stage.afterKm ?? null,
        afterDays: stage.afterDays ?? null,
      })),
      lowestPackShare: typed.lowestPackShare,
    });
    setIssues(
      read.error?.issues.map(({ path, message }) =>
        path.length > 1
          ? `${String(path[0]) === 'items' ? 'Service' : 'Follow-up'} ${Number(path[1]) + 1}: ${message}`
          : message,
      ) ?? [],
    );
    if (!read.success) return;
    const { data } = await save(read.data);
    if (data) success('Saved.');
  };
  return (
    <Form
      form={form}
      layout="vertical"
      requiredMark={false}
      initialValues={{ items: stored.items, stages: stored.stages, lowestPackShare: stored.lowestPackShare }}
      onFinish={() => void store(stored.version)}
    >
      <Section
        title="Service"
        say="Whichever comes first, kilometres or days. A mid motor pulls through the chain and eats it sooner; a hub motor loads spokes and axle nuts. What the maker of a part says goes before these."
      >
        <Lines
          name="items"
          label="Service"
          className="of-service"
          first={{ part: 'chain', what: '', firstKm: null, everyKm: 1000, everyDays: null, drive: 'any' }}
          add="Add a service"
          cells={[
            { name: 'part', label: 'Part', choices: PARTS },
            { name: 'what', label: 'What' },
            { name: 'firstKm', label: 'First after', unit: 'km' },
            { name: 'everyKm', label: 'Then every', unit: 'km' },
            { name: 'everyDays', label: 'Or days', unit: 'level' },
            { name: 'drive', label: 'Drive', choices: DRIVES },
          ]}
        />
      </Section>
      <Section title="Follow-ups" say="When riders are asked again, with the same questions each time.">
        <Lines
          name="stages"
          label="Follow-ups"
          className="of-stages"
          first={{ label: '', afterKm: null, afterDays: 90 }}
          add="Add a follow-up"
          cells={[
            { name: 'label', label: 'Name' },
            { name: 'afterKm', label: 'After', unit: 'km' },
            { name: 'afterDays', label: 'Or days', unit: 'level' },
          ]}
        />
      </Section>
      <Form.Item
        name="lowestPackShare"
        label="A pack is at its end below"
        rules={[readableNumber]}
        className="max-w-220"
      >
        <QuantityInput unit="1" shownAs="%" />
      </Form.Item>
      {issues.length > 0 && (
        <div className="problem" role="alert">
          {issues.map((words) => (
            <p key={words}>{words}</p>
          ))}
        </div>
      )}
      {meanwhile.success ? (
        <ConflictChoice
          what="The intervals were saved there since you opened them."
          differences={[
            {
              label: 'Services and follow-ups',
              theirs: `${meanwhile.data.items.length} and ${meanwhile.data.stages.length}`,
              mine: `${(form.getFieldValue('items') as unknown[]).length} and ${(form.getFieldValue('stages') as unknown[]).length}`,
            },
          ]}
          keepLabel="Overwrite with mine"
          takeLabel="Use the saved version"
          isBusy={saving.isLoading}
          onKeepMine={() => void store(meanwhile.data.version)}
          onTakeTheirs={() => {
            form.setFieldsValue({
              items: meanwhile.data.items,
              stages: meanwhile.data.stages,
              lowestPackShare: meanwhile.data.lowestPackShare,
            });
            saving.reset();
          }}
        />
      ) : (
        saving.error !== undefined && <Problem error={saving.error} />
      )}
      <div className="actions">
        <Button type="primary" htmlType="submit" loading={saving.isLoading}>
          Save the intervals
        </Button>
        <Button
          onClick={() =>
            form.setFieldsValue({ items: [...USUAL_SERVICE], stages: [...USUAL_STAGES], lowestPackShare: 0.7 })
          }
        >
          Fill in the usual ones
        </Button>
      </div>
    </Form>
  );
}
