import { Button, Form, Input, Select } from 'antd';
import { useEffect } from 'react';
import { QuantityInput, readableNumber } from '../../shared/ui/QuantityInput.js';
import { PLACES, type PartField } from './field.js';

const YES_NO = [
  { value: true, label: 'Yes' },
  { value: false, label: 'No' },
];
const pathOf = (name: string): string[] => name.split('.');

/** The input of one field within a form, as its table entry says. */
export function FieldInput({ field, prefix = [] }: { readonly field: PartField; readonly prefix?: readonly string[] }) {
  const { name, label, kind, help } = field;
  const path = [...prefix, ...pathOf(name)];
  if (kind === 'price') return <PriceInput path={path} label={label} />;
  if (kind === 'box') return <BoxInput path={path} />;
  return (
    <Form.Item
      name={path}
      label={label}
      {...(help && { extra: help })}
      rules={kind === 'number' || kind === 'whole' ? [readableNumber] : []}
      {...(kind === 'notes' && { className: 'whole-row' })}
    >
      {inputOf(field)}
    </Form.Item>
  );
}

/** Circumferences are written down in millimetres as often as in metres. */
const IN_MILLIMETRES = { above: 20, unit: 'mm' } as const;

function inputOf({ name, kind, unit, choices, label }: PartField) {
  switch (kind) {
    case 'number':
    case 'whole':
      if (name.endsWith('wheelCircumferenceM')) return <QuantityInput unit="m" bareAbove={IN_MILLIMETRES} />;
      // Shares are stored as fractions and written in per cent.
      return unit === '%' ? <QuantityInput unit="1" shownAs="%" /> : <QuantityInput unit={unit ?? 'level'} />;
    case 'choice':
      return <Select allowClear options={[...(choices ?? [])]} aria-label={label} />;
    case 'choices':
      return <Select mode="multiple" options={[...(choices ?? [])]} aria-label={label} />;
    case 'flag':
      return <Select allowClear options={YES_NO} aria-label={label} />;
    case 'notes':
      return <Input.TextArea rows={3} />;
    case 'text':
    case 'numbers':
    case 'price':
    case 'box':
      return <Input />;
  }
}

const SIGNS: Readonly<Record<string, string>> = { '€': 'EUR', $: 'USD', '£': 'GBP', '¥': 'JPY' };
const CURRENCY = 'ebrix.currency';

/**
 * An amount with its currency and the day it was seen: a price without a day ages unnoticed. Today and the currency used last
 * are taken until something else is said.
 */
function PriceInput({ path, label }: { readonly path: readonly string[]; readonly label: string }) {
  const form = Form.useFormInstance();
  const at = (name: string) => [...path, name];
  const amount = Form.useWatch(at('amount'), form) as number | null | undefined;
  const currency = Form.useWatch(at('currency'), form) as string | undefined;
  const isPriced = typeof amount === 'number' && !Number.isNaN(amount);
  useEffect(() => {
    if (!isPriced) return;
    if (!form.getFieldValue([...path, 'currency']))
      form.setFieldValue([...path, 'currency'], localStorage.getItem(CURRENCY) ?? 'EUR');
    if (!form.getFieldValue([...path, 'date']))
      form.setFieldValue([...path, 'date'], new Date().toLocaleDateString('sv-SE'));
    // The path is that of one field for as long as it is shown.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [isPriced, form]);
  useEffect(() => {
    if (isPriced && /^[A-Z]{3}$/.test(currency ?? '')) localStorage.setItem(CURRENCY, currency!);
  }, [isPriced, currency]);
  return (
    <fieldset className="whole-row price">
      <Form.Item name={at('amount')} label={label} rules={[readableNumber]}>
        <QuantityInput unit="level" />
      </Form.Item>
      <Form.Item
        name={at('currency')}
        label="Currency"
        normalize={(text: string) => SIGNS[text.trim()] ?? text.toUpperCase()}
      >
        <Input placeholder="EUR" maxLength={3} />
      </Form.Item>
      <Form.Item name={at('date')} label="Price date">
        <Input type="date" />
      </Form.Item>
    </fieldset>
  );
}

function BoxInput({ path }: { readonly path: string[] }) {
  return (
    <div className="whole-row">
      <Form.List name={path}>
        {(items, { add, remove }) => (
          <div className="grid gap-4">
            {items.map(({ key, name }) => (
              <div key={key} className="box-item">
                <Form.Item name={[name, 'what']} label="What">
                  <Input />
                </Form.Item>
                <Form.Item name={[name, 'massKg']} label="Mass" rules={[readableNumber]}>
                  <QuantityInput unit="kg" />
                </Form.Item>
                <Form.Item name={[name, 'place']} label="Position on bike">
                  <Select options={[...PLACES]} aria-label="Position on bike" />
                </Form.Item>
                <Button onClick={() => remove(name)} aria-label={`Remove item ${name + 1} from the box`}>
                  Remove
                </Button>
              </div>
            ))}
            <div>
              <Button onClick={() => add({ what: '', massKg: null, place: 'frame' })}>Add an item</Button>
            </div>
          </div>
        )}
      </Form.List>
    </div>
  );
}
