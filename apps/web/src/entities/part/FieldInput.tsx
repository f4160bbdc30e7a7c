import { Button, Form, Input, Select } from 'antd';
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

function inputOf({ kind, unit, choices, label }: PartField) {
  switch (kind) {
    case 'number':
    case 'whole':
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

/** An amount with its currency and the day it was seen: a price without a day ages unnoticed. */
function PriceInput({ path, label }: { readonly path: readonly string[]; readonly label: string }) {
  const at = (name: string) => [...path, name];
  return (
    <fieldset className="whole-row price">
      <Form.Item name={at('amount')} label={label} rules={[readableNumber]}>
        <QuantityInput unit="level" />
      </Form.Item>
      <Form.Item name={at('currency')} label="Currency" normalize={(text: string) => text.toUpperCase()}>
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
