import type { FittingRecord } from '@ebrix/core/bench';
import { Button, Form, Input } from 'antd';
import type { SetupDetail } from '@ebrix/contract';
import { QuantityInput, readableNumber } from '../../shared/ui/QuantityInput.js';
import { Section } from '../../shared/ui/Lines.js';
import { DrillSays } from './RecordSays.js';

interface CoolingProps {
  readonly addOns: SetupDetail['revisions'][number]['parts']['addOns'];
  readonly record: FittingRecord;
}

/** Fluid that goes into the motor: where the drill stops, how much, what seals it. */
export function CoolingSection({ addOns, record }: CoolingProps) {
  const form = Form.useFormInstance<FittingRecord>();
  const cooling = Form.useWatch('cooling', { form, preserve: true });
  return (
    <Section title="Cooling fluid in the motor">
      {cooling ? (
        <>
          <p className="problem mb-12" role="note">
            Battery away, swarf caught with grease on the drill. A hole in the cover may end the warranty, and a drill
            that goes too deep ends the motor. What the maker of motor and fluid says goes first.
          </p>
          <div className="field-grid">
            <Form.Item name={['cooling', 'fluid']} label="Fluid">
              <Input maxLength={120} />
            </Form.Item>
            <Form.Item name={['cooling', 'doseMl']} label="Dose, ml" rules={[readableNumber]}>
              <QuantityInput unit="level" />
            </Form.Item>
            <Form.Item name={['cooling', 'coverMm']} label="Cover thickness" rules={[readableNumber]}>
              <QuantityInput unit="mm" />
            </Form.Item>
            <Form.Item name={['cooling', 'drillStopMm']} label="Drill stop set to" rules={[readableNumber]}>
              <QuantityInput unit="mm" />
            </Form.Item>
            <Form.Item name={['cooling', 'sealedWith']} label="Sealed with">
              <Input maxLength={120} />
            </Form.Item>
          </div>
          <DrillSays cooling={record.cooling} />
          <Button onClick={() => form.setFieldValue('cooling', null)}>No fluid after all</Button>
        </>
      ) : (
        <Button
          onClick={() => {
            const fluid = addOns.find(({ kind }) => kind === 'cooling-fluid');
            form.setFieldValue('cooling', {
              fluid: fluid?.name ?? '',
              doseMl: fluid?.doseMl ?? null,
              coverMm: null,
              drillStopMm: null,
              sealedWith: '',
            });
          }}
        >
          Fluid goes in
        </Button>
      )}
    </Section>
  );
}
