import { Button, Form, Modal } from 'antd';
import type { ManualReadingsDto, RunDetail } from '@ebrix/contract';
import { Problem } from '../../shared/ui/QueryView.js';
import { QuantityInput, readableNumber } from '../../shared/ui/QuantityInput.js';
import { AssignmentFields, toAssignment, type AssignmentValues } from '../../entities/run/index.js';
import { useAssignRunMutation } from '../../entities/run/index.js';

const READINGS = [
  ['tripDistanceKm', 'Trip distance', 'km'],
  ['displayMeanKmh', 'Average speed on display', 'km/h'],
  ['restVoltageStartV', 'Rest voltage, start', 'V'],
  ['restVoltageEndV', 'Rest voltage, end', 'V'],
  ['wallEnergyWh', 'Socket energy', 'Wh'],
] as const;

/** The record with these readings as they stand in the form; times and temperatures stay. */
function withRead(
  before: ManualReadingsDto | null,
  read: Partial<ManualReadingsDto> | undefined,
): ManualReadingsDto | null {
  const manualReadings = { ...before } as Record<string, unknown>;
  for (const [key] of READINGS) {
    const value = read?.[key];
    if (typeof value === 'number') manualReadings[key] = value;
    else delete manualReadings[key];
  }
  return Object.keys(manualReadings).length > 0 ? manualReadings : null;
}

/** Mends a run that was assigned to the wrong setup, course or outing; its figures are worked out again. */
export function ReassignForm({ run, onDone }: { readonly run: RunDetail; readonly onDone: () => void }) {
  const [form] = Form.useForm<AssignmentValues>();
  const [assign, { isLoading, error }] = useAssignRunMutation();
  const save = async (values: AssignmentValues): Promise<void> => {
    const { direction, slotId, notes, logSpan } = run;
    // What the form does not show stays as it is.
    const manualReadings = withRead(run.manualReadings, values.manualReadings ?? undefined);
    const assignment = { ...toAssignment(values), direction, slotId, manualReadings, notes, logSpan };
    const result = await assign({ id: run.id, version: run.version, assignment });
    if (!('error' in result)) onDone();
  };
  return (
    <Modal open title="Ride details" footer={null} onCancel={onDone} width={560}>
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        initialValues={{
          testKind: run.testKind,
          setupRevisionId: run.setup.revisionId,
          courseId: run.course.id,
          outingId: run.outing.id,
          riderId: run.rider?.id ?? null,
          loggerId: run.logger?.id ?? null,
          riding: run.riding,
          tyrePressureBar: run.tyrePressureBar,
          perceivedEffort: run.perceivedEffort,
          totalMassKg: run.totalMassKg,
          emptied: run.emptied,
          gauge: run.gauge,
          ruleOfThumbWhPerKm: run.ruleOfThumbWhPerKm,
          manualReadings: run.manualReadings ?? {},
        }}
        onFinish={(values) => void save(values)}
      >
        <AssignmentFields />
        <details className="mb-12" open={run.manualReadings !== null}>
          <summary>Read by hand</summary>
          <div className="plan-rules mt-8">
            {READINGS.map(([key, label, unit]) => (
              <Form.Item key={key} name={['manualReadings', key]} label={label} rules={[readableNumber]}>
                <QuantityInput unit={unit} />
              </Form.Item>
            ))}
          </div>
        </details>
        {error !== undefined && <Problem error={error} />}
        <div className="actions">
          <Button type="primary" htmlType="submit" loading={isLoading}>
            Save and recalculate
          </Button>
          <Button onClick={onDone}>Cancel</Button>
        </div>
      </Form>
    </Modal>
  );
}
