import { Button, Form, Input } from 'antd';
import { useState } from 'react';
import type { ThumbRule } from '@ebrix/core/bench';
import { thumbRulesSchema, type ThumbRules } from '@ebrix/contract';
import { Problem } from '../../shared/ui/QueryView.js';
import { QuantityInput, readableNumber } from '../../shared/ui/QuantityInput.js';
import { useSetThumbRulesMutation } from '../../entities/setup/index.js';

/** The tester's own consumptions by rule of thumb, for all setups at once; worked out by the ride model until there are any. */
export function ThumbRulesForm({ rules }: { readonly rules: readonly ThumbRule[] }) {
  const [form] = Form.useForm<{ rules: ThumbRules }>();
  const [save, { error, isLoading }] = useSetThumbRulesMutation();
  const isOwn = rules.length > 0 && rules.every(({ basis }) => basis === undefined);
  /** What this window began from, or stored last. */
  const [seen, setSeen] = useState<ThumbRules>(() =>
    isOwn ? rules.map(({ name, whPerKm }) => ({ name, whPerKm })) : [],
  );
  const store = async (wanted: ThumbRules): Promise<void> => {
    const { data } = await save({ rules: wanted, seen });
    if (data) setSeen(data);
  };
  const started = rules.map(({ name, whPerKm }) => ({ name, whPerKm: Number(whPerKm.toPrecision(3)) }));
  const submit = (): void => {
    const parsed = thumbRulesSchema.safeParse(form.getFieldValue('rules'));
    if (parsed.success) {
      void store(parsed.data);
      return;
    }
    form.setFields(
      parsed.error.issues.map(({ path, message }) => ({ name: ['rules', ...path] as never, errors: [message] })),
    );
  };
  return (
    <Form form={form} layout="vertical" requiredMark={false} initialValues={{ rules: started }} onFinish={submit}>
      <Form.List name="rules">
        {(items, { add, remove }) => (
          <>
            {items.map(({ key, name }) => (
              <div key={key} className="thumb-item">
                <Form.Item name={[name, 'name']} label="Conditions">
                  <Input />
                </Form.Item>
                <Form.Item name={[name, 'whPerKm']} label="Consumption" rules={[readableNumber]}>
                  <QuantityInput unit="Wh/km" />
                </Form.Item>
                <Button onClick={() => remove(name)} aria-label={`Remove rule ${name + 1}`}>
                  Remove
                </Button>
              </div>
            ))}
            <div className="actions">
              <Button onClick={() => add({ name: '', whPerKm: null })}>Add a rule</Button>
              <Button type="primary" htmlType="submit" loading={isLoading}>
                Save the rules
              </Button>
              {isOwn && (
                <Button onClick={() => void store([])} loading={isLoading}>
                  Back to those of the ride model
                </Button>
              )}
            </div>
          </>
        )}
      </Form.List>
      {error !== undefined && <Problem error={error} />}
    </Form>
  );
}
