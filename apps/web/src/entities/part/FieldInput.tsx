import { blocksInSeries } from '@ebrix/core/bench';
import { Button, Form, Input, Select } from 'antd';
import { useEffect, useState } from 'react';
import { formatQuantity } from '../../shared/format/format-quantity.js';
import { useUnits } from '../../shared/preferences/index.js';
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
  if (kind === 'blocks') return <BlocksInput prefix={prefix} />;
  const extra = field.sizes ? <SizeChoice path={path} field={field} /> : help;
  return (
    <Form.Item
      name={path}
      label={label}
      {...(extra && { extra })}
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
    case 'blocks':
      return <Input />;
  }
}

/** Sizes in which the thing is sold: choosing one writes the number, which stays to be changed. */
function SizeChoice({ path, field }: { readonly path: readonly string[]; readonly field: PartField }) {
  const form = Form.useFormInstance();
  const system = useUnits();
  const value = Form.useWatch([...path], form) as number | null | undefined;
  const sizes = field.sizes ?? [];
  return (
    <>
      <select
        className="sizes"
        aria-label={`${field.label}: usual sizes`}
        value={sizes.some((size) => size.value === value) ? value! : ''}
        onChange={({ target }) => {
          form.setFieldValue([...path], target.value === '' ? null : Number(target.value));
        }}
      >
        <option value="">usual sizes …</option>
        {sizes.map((size) => (
          <option key={size.label} value={size.value}>
            {[size.label, field.unit && formatQuantity(size.value, field.unit, system)]
              .filter((part, k, all) => part && all.indexOf(part) === k)
              .join(': ')}
          </option>
        ))}
      </select>
      {field.help && <div>{field.help}</div>}
    </>
  );
}

/** Lead-acid as it is bought: so many blocks of so many volts, one behind the other. */
function BlocksInput({ prefix }: { readonly prefix: readonly string[] }) {
  const form = Form.useFormInstance();
  const [count, setCount] = useState<number | null>(4);
  const [voltageV, setVoltage] = useState<number | null>(12);
  const [capacityAh, setCapacity] = useState<number | null>(null);
  const [massKg, setMass] = useState<number | null>(null);
  const isReady = count !== null && Number.isInteger(count) && count >= 1 && count <= 10 && (voltageV ?? 0) >= 2;
  return (
    <fieldset className="whole-row price group-fill mb-14">
      <legend className="quiet">Blocks one behind the other, as they are bought</legend>
      <label className="stacked">
        How many
        <QuantityInput unit="level" value={count} onChange={setCount} />
      </label>
      <label className="stacked">
        Each of
        <QuantityInput unit="V" value={voltageV} onChange={setVoltage} />
      </label>
      <label className="stacked">
        Capacity of one
        <QuantityInput unit="Ah" value={capacityAh} onChange={setCapacity} />
      </label>
      <label className="stacked">
        Mass of one
        <QuantityInput unit="kg" value={massKg} onChange={setMass} />
      </label>
      <div className="actions whole-row mt-10">
        <Button
          disabled={!isReady}
          onClick={() => {
            const whole = blocksInSeries(count!, { voltageV: voltageV!, capacityAh, massKg });
            for (const [name, value] of Object.entries({ ...whole, parallelCells: 1 }))
              if (value !== null && !Number.isNaN(value)) form.setFieldValue([...prefix, name], value);
          }}
        >
          Fill in the pack from its blocks
        </Button>
        <span className="quiet">A fuse at the battery; charge them as a row only with a charger for all of them.</span>
      </div>
    </fieldset>
  );
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
    // oxlint-disable-next-line react/exhaustive-deps
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
