import { Checkbox, Form, InputNumber, Select } from 'antd';
import type { OpenSlot, Setup } from '@ebrix/contract';
import { formatDay } from '../../shared/format/format-quantity.js';
import { PSI_ABOVE, QuantityInput, readableNumber } from '../../shared/ui/QuantityInput.js';
import { useListPartsQuery } from '../part/index.js';
import { useListCoursesQuery } from '../course/index.js';
import { useListOutingsQuery } from '../outing/index.js';
import { useListSetupsQuery } from '../setup/index.js';
import { KIND_OPTIONS } from './riding-options.js';
import { outingForm } from '../outing/index.js';
import { useOpened } from '../../shared/ui/piece.js';
import { useListOpenSlotsQuery } from '../plan/index.js';
import { asPlanned, slotOptions } from './planned-runs.js';
import { WheelFactorInput } from './WheelFactorInput.js';
import { RidingFields } from './RidingFields.js';

const CHOOSE = [{ required: true, message: 'Choose one.' }];

const active = <T extends { archivedAt: string | null }>(list: readonly T[] | undefined): T[] =>
  (list ?? []).filter(({ archivedAt }) => archivedAt === null);

/** Every revision of every setup in use. */
export function setupOptions(setups: readonly Setup[] | undefined): { value: string; label: string }[] {
  return active(setups).flatMap(({ name, revisions }) =>
    revisions.map(({ id, number }) => ({
      value: id,
      label: revisions.length > 1 ? `${name}, revision ${number}` : name,
    })),
  );
}

/** Open runs of plans, and the one that this run is already. */
function plannedOptions(slots: readonly OpenSlot[] | undefined, own: string | null | undefined) {
  const open = slotOptions(slots);
  if (!own || slots?.some(({ slotId }) => slotId === own)) return open;
  return [
    { label: 'As it is', title: 'As it is', options: [{ value: own, label: 'the planned run it was made of' }] },
    ...open,
  ];
}

/** The fields of one run: what was ridden, within a form. `prefix` names the part of the form they fill. */
export function AssignmentFields({ prefix = [] }: { readonly prefix?: readonly (string | number)[] }) {
  const form = Form.useFormInstance();
  const addingOuting = useOpened(outingForm);
  const { data: setups } = useListSetupsQuery();
  const { data: courses } = useListCoursesQuery();
  const { data: outings } = useListOutingsQuery();
  const { data: riders } = useListPartsQuery('riders');
  const { data: loggers } = useListPartsQuery('loggers');
  const { data: slots } = useListOpenSlotsQuery();
  const at = (name: string) => [...prefix, name];
  const own = Form.useWatch(at('slotId'), form) as string | null | undefined;
  const planned = plannedOptions(slots, own);
  const search = { showSearch: { optionFilterProp: 'label' } } as const;
  return (
    <div style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fit, minmax(210px, 1fr))', columnGap: 16 }}>
      <Form.Item name={at('setupRevisionId')} label="Setup" rules={CHOOSE}>
        <Select {...search} options={setupOptions(setups)} notFoundContent="No setup yet: create one on the bench." />
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
            void addingOuting.open(true);
          }}
        />
      </Form.Item>
      <Form.Item name={at('direction')} label="Direction" tooltip="Which way round, or up, the course was ridden">
        <Select
          options={[
            { value: 1, label: 'as drawn' },
            { value: -1, label: 'reversed' },
          ]}
          placeholder="as drawn"
        />
      </Form.Item>
      {planned.length > 0 && (
        <Form.Item
          name={at('slotId')}
          label="Planned run"
          tooltip="Ticks it off in the plan, and fills in what was planned"
        >
          <Select
            {...search}
            allowClear
            placeholder="not by a plan"
            popupMatchSelectWidth={false}
            options={planned}
            onChange={(id: string | undefined) => {
              const slot = slots?.find(({ slotId }) => slotId === id);
              if (!slot) return;
              for (const [name, value] of Object.entries(asPlanned(slot))) form.setFieldValue(at(name), value);
            }}
          />
        </Form.Item>
      )}
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
      <Form.Item name={at('tyrePressureBar')} label="Tyre pressure" rules={[readableNumber]}>
        <QuantityInput unit="bar" bareAbove={PSI_ABOVE} />
      </Form.Item>
      <Form.Item name={at('perceivedEffort')} label="How hard it felt" tooltip="0 nothing at all, 10 the most you can">
        <InputNumber min={0} max={10} className="w-100-pct" />
      </Form.Item>
      <Form.Item
        name={at('wheelFactor')}
        label="Wheel circumference, true/set"
        tooltip="Where the display or logger had it wrong, in mm: 2070/2105. Its speeds and distances are put right by that"
      >
        <WheelFactorInput />
      </Form.Item>
      <Form.Item name={at('emptied')} valuePropName="checked" label="How it ended">
        <Checkbox>Ridden until the pack was empty</Checkbox>
      </Form.Item>
      <Form.Item name={at('isPartWay')} valuePropName="checked" label="How it began">
        <Checkbox>Part-way through a charge, as meant</Checkbox>
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
      {addingOuting.value && (
        <outingForm.Part
          onDone={(outing) => {
            addingOuting.close();
            if (outing) form.setFieldValue(at('outingId'), outing.id);
          }}
        />
      )}
    </div>
  );
}
