import { Form, Input, InputNumber, Select } from 'antd';
import { QuantityInput, readableNumber } from '../../shared/ui/QuantityInput.js';
import { WAY_OPTIONS } from './riding-options.js';

const LIMIT_MODE_OPTIONS = [
  { value: 'legal', label: 'As legal' },
  { value: 'opened', label: 'Opened, private ground only' },
];

interface Props {
  readonly prefix?: readonly (string | number)[];
  /** What stands where nothing is said. */
  readonly unsaid: string;
}

/** How a ride was, or is to be, ridden; within a form, below `prefix`. */
export function RidingFields({ prefix = ['riding'], unsaid }: Props) {
  const at = (name: string) => [...prefix, name];
  return (
    <>
      <Form.Item name={at('way')} label="Way of riding">
        <Select allowClear showSearch={{ optionFilterProp: 'label' }} placeholder={unsaid} options={WAY_OPTIONS} />
      </Form.Item>
      <Form.Item name={at('level')} label="Assist level">
        <Input placeholder={unsaid} maxLength={20} />
      </Form.Item>
      <Form.Item name={at('payloadKg')} label="Payload, without the rider" rules={[readableNumber]}>
        <QuantityInput unit="kg" placeholder={unsaid} />
      </Form.Item>
      <Form.Item name={at('gear')} label="Gear kept">
        <Input placeholder={unsaid} maxLength={20} />
      </Form.Item>
      <Form.Item name={at('limitMode')} label="Speed limit">
        <Select
          allowClear
          showSearch={{ optionFilterProp: 'label' }}
          placeholder={unsaid}
          options={LIMIT_MODE_OPTIONS}
        />
      </Form.Item>
      <Form.Item name={at('laps')} label="Laps">
        <InputNumber min={1} max={200} precision={0} placeholder={unsaid} className="w-100-pct" />
      </Form.Item>
    </>
  );
}
