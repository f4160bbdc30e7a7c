import { Checkbox, Form, InputNumber, Select } from 'antd';
import { useState } from 'react';
import { formatDay } from '../../shared/format/format-quantity.js';
import { QuantityInput, readableNumber } from '../../shared/ui/QuantityInput.js';
import { TEST_KIND_NAMES, TEST_KINDS } from '@ebrix/core/analysis';
import { useListPartsQuery } from '../part/index.js';
import { useListCoursesQuery } from '../course/index.js';
import { useListOutingsQuery } from '../outing/index.js';
import { useListSetupsQuery } from '../setup/index.js';
import { OutingForm } from '../outing/index.js';
import { RidingFields } from './RidingFields.js';

export const KIND_OPTIONS = TEST_KIND_NAMES.map((value) => ({ value, label: TEST_KINDS[value].label }));
const CHOOSE = [{ required: true, message: 'Choose one.' }];

/** The fields of one run: what was ridden, within a form. `prefix` names the part of the form they fill. */
export function AssignmentFields({ prefix = [] }: { readonly prefix?: readonly (string | number)[] }) {
  const form = Form.useFormInstance();
  const [isAddingOuting, setAddingOuting] = useState(false);
  const { data: setups } = useListSetupsQuery();
  const { data: courses } = useListCoursesQuery();
  const { data: outings } = useListOutingsQuery();
  const { data: riders } = useListPartsQuery('riders');
  const { data: loggers } = useListPartsQuery('loggers');
  const at = (name: string) => [...prefix, name];
  const search = { showSearch: { optionFilterProp: 'label' } } as const;
  const active = <T extends { archivedAt: string | null }>(list: readonly T[] | undefined): T[] =>
    (list ?? []).filter(({ archivedAt }) => archivedAt === null);
  return (
    <div style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fit, minmax(210px, 1fr))', columnGap: 16 }}>
      <Form.Item name={at('setupRevisionId')} label="Setup" rules={CHOOSE}>
        <Select
          {...search}
          options={active(setups).flatMap(({ name, revisions }) =>
            revisions.map(({ id, number }) => ({
              value: id,
              label: revisions.length > 1 ? `${name}, revision ${number}` : name,
            })),
          )}
          notFoundContent="No setup yet: create one on the bench."
        />
      </Form.Item>
      <Form.Item name={at('testKind')} label="Test">
        <Select {...search} options={KIND_OPTIONS} />
      </Form.Item>
      <Form.Item name={at('courseId')} label="Course" rules={CHOOSE}>
        <Select
          {...search}
          options={active(courses).map(({ id, name }) => ({ value: id, label: name }))}
          notFoundContent="No course yet: add one under Courses."
        />
      </Form.Item>
      <Form.Item name={at('outingId')} label="Outing" rules={CHOOSE}>
        <Select
          {...search}
          options={[
            { value: 'new', label: 'New outing …' },
            ...(outings ?? []).map(({ id, title, date }) => ({
              value: id,
              label: `${formatDay(date)}${title ? `, ${title}` : ''}`,
            })),
          ]}
          onChange={(value) => {
            if (value !== 'new') return;
            form.setFieldValue(at('outingId'), undefined);
            setAddingOuting(true);
          }}
        />
      </Form.Item>
      <Form.Item name={at('riderId')} label="Rider">
        <Select {...search} allowClear options={active(riders).map(({ id, name }) => ({ value: id, label: name }))} />
      </Form.Item>
      <Form.Item name={at('loggerId')} label="Logger">
        <Select {...search} allowClear options={active(loggers).map(({ id, name }) => ({ value: id, label: name }))} />
      </Form.Item>
      <RidingFields prefix={at('riding')} unsaid="not written down" />
      <Form.Item
        name={at('totalMassKg')}
        label="Total weight as ridden"
        rules={[readableNumber]}
        tooltip="Blank: added up from bike, kit, packs and rider"
      >
        <QuantityInput unit="kg" />
      </Form.Item>
      <Form.Item name={at('tyrePressureBar')} label="Tyre pressure">
        <InputNumber min={0.5} max={12} step={0.1} suffix="bar" className="w-100-pct" />
      </Form.Item>
      <Form.Item name={at('perceivedEffort')} label="How hard it felt" tooltip="0 nothing at all, 10 the most you can">
        <InputNumber min={0} max={10} className="w-100-pct" />
      </Form.Item>
      <Form.Item name={at('emptied')} valuePropName="checked" label="How it ended">
        <Checkbox>Ridden until the pack was empty</Checkbox>
      </Form.Item>
      <details style={{ gridColumn: '1 / -1', marginBottom: 12 }}>
        <summary>Other range methods: gauge bars, rule of thumb</summary>
        <div
          style={{
            display: 'grid',
            gridTemplateColumns: 'repeat(auto-fit, minmax(150px, 1fr))',
            columnGap: 16,
            marginTop: 8,
          }}
        >
          <Form.Item name={[...prefix, 'gauge', 'start']} label="Bars at the start" rules={[readableNumber]}>
            <QuantityInput unit="level" />
          </Form.Item>
          <Form.Item name={[...prefix, 'gauge', 'end']} label="Bars at the end" rules={[readableNumber]}>
            <QuantityInput unit="level" />
          </Form.Item>
          <Form.Item name={[...prefix, 'gauge', 'bars']} label="Bars when full" rules={[readableNumber]}>
            <QuantityInput unit="level" />
          </Form.Item>
          <Form.Item
            name={at('ruleOfThumbWhPerKm')}
            label="Usual consumption"
            rules={[readableNumber]}
            extra="About 15 Wh/km on throttle alone near 30 km/h, about 8 with moderate pedalling near 23 km/h"
          >
            <QuantityInput unit="Wh/km" />
          </Form.Item>
        </div>
      </details>
      {isAddingOuting && (
        <OutingForm
          onDone={(outing) => {
            setAddingOuting(false);
            if (outing) form.setFieldValue(at('outingId'), outing.id);
          }}
        />
      )}
    </div>
  );
}
