import { Button, Form, Input } from 'antd';
import { useState } from 'react';
import type { SetupSettings } from '@ebrix/contract';
import { QuantityInput, readableNumber } from '../../shared/ui/QuantityInput.js';
import type { ComposeValues } from './compose-values.js';
import { fillLevels, levelGroupProblem, type LevelGroup } from './level-groups.js';

/** What each level of the display is set to, as lines of the form. */
export function AssistLevels() {
  return (
    <Form.List name={['settings', 'levels']}>
      {(items, { add, remove }) => (
        <section aria-label="Assist levels" className="mb-14">
          {items.map(({ key, name }) => (
            <div key={key} className="level-item">
              <Form.Item name={[name, 'name']} label="Level">
                <Input />
              </Form.Item>
              <Form.Item name={[name, 'speedCapKmh']} label="Up to" rules={[readableNumber]}>
                <QuantityInput unit="km/h" />
              </Form.Item>
              <Form.Item name={[name, 'pedalShare']} label="Pedal share" rules={[readableNumber]}>
                <QuantityInput unit="1" shownAs="%" />
              </Form.Item>
              <Form.Item name={[name, 'throttleShare']} label="Throttle share" rules={[readableNumber]}>
                <QuantityInput unit="1" shownAs="%" />
              </Form.Item>
              <Button onClick={() => remove(name)} aria-label={`Remove level ${name + 1}`}>
                Remove
              </Button>
            </div>
          ))}
          <div className="actions">
            <Button onClick={() => add({ name: String(items.length + 1) })}>Add an assist level</Button>
            <FillLevels />
          </div>
        </section>
      )}
    </Form.List>
  );
}

/** Displays with nine levels are set in groups: one line for levels 1 to 3, the next for 4 to 6. */
function FillLevels() {
  const form = Form.useFormInstance<ComposeValues>();
  const [isOpen, setOpen] = useState(false);
  const [group, setGroup] = useState<LevelGroup>({
    from: 1,
    to: 3,
    speedCapKmh: null,
    pedalShare: null,
    throttleShare: null,
  });
  const problem = levelGroupProblem(group);
  if (!isOpen) return <Button onClick={() => setOpen(true)}>Fill several levels alike</Button>;
  return (
    <fieldset className="price group-fill mt-12">
      <legend className="quiet">Levels alike</legend>
      {(
        [
          ['from', 'From level', 'level', undefined],
          ['to', 'To level', 'level', undefined],
          ['speedCapKmh', 'All up to', 'km/h', undefined],
          ['pedalShare', 'All with a pedal share of', '1', '%'],
          ['throttleShare', 'All with a throttle share of', '1', '%'],
        ] as const
      ).map(([name, label, unit, shownAs]) => (
        <label key={name} className="stacked">
          {label}
          <QuantityInput
            unit={unit}
            {...(shownAs && { shownAs })}
            value={group[name]}
            onChange={(value) => setGroup({ ...group, [name]: value })}
          />
        </label>
      ))}
      {problem && (
        <p role="alert" className="problem whole-row">
          {problem}
        </p>
      )}
      <div className="actions whole-row mt-10">
        <Button
          disabled={problem !== undefined}
          onClick={() => {
            const levels = (form.getFieldValue(['settings', 'levels']) ?? []) as SetupSettings['levels'];
            form.setFieldValue(['settings', 'levels'], fillLevels(levels, group));
            setGroup({ ...group, from: group.to! + 1, to: 2 * group.to! - group.from! + 1 });
          }}
        >
          {problem ? 'Fill them' : `Fill levels ${group.from} to ${group.to}`}
        </Button>
        <Button onClick={() => setOpen(false)}>Close</Button>
      </div>
    </fieldset>
  );
}
