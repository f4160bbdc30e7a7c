import { Button, Form, Input } from 'antd';
import { thumbRulesSchema, type ThumbRules } from '@ebrix/contract';
import { Problem } from '../../shared/ui/QueryView.js';
import { QuantityInput, readableNumber } from '../../shared/ui/QuantityInput.js';
import { useSetThumbRulesMutation } from '../../entities/setup/index.js';

/** The table of consumptions by rule of thumb, for all setups at once. */
export function ThumbRulesForm({ rules }: { readonly rules: ThumbRules }) {
  const [form] = Form.useForm<{ rules: ThumbRules }>();
  const [save, { error, isLoading }] = useSetThumbRulesMutation();
  const submit = (): void => {
    const parsed = thumbRulesSchema.safeParse(form.getFieldValue('rules'));
    if (parsed.success) {
      void save(parsed.data);
      return;
    }
    form.setFields(
      parsed.error.issues.map(({ path, message }) => ({ name: ['rules', ...path] as never, errors: [message] })),
    );
  };
  return (
    <details className="mt-8">
      <summary>Edit the rules of thumb for all setups</summary>
      <Form form={form} layout="vertical" requiredMark={false} initialValues={{ rules }} onFinish={submit}>
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
              </div>
            </>
          )}
        </Form.List>
        {error !== undefined && <Problem error={error} />}
      </Form>
    </details>
  );
}
