import { Button, Checkbox, Drawer, Form, Input, Select } from 'antd';
import { courseInputSchema, type Course } from '@ebrix/contract';
import { Problem } from '../../shared/ui/QueryView.js';
import { QuantityInput, readableNumber } from '../../shared/ui/QuantityInput.js';
import { useDraft } from '../../shared/ui/use-draft.js';
import { useSaveCourseMutation } from '../../entities/course/index.js';
import { COURSE_KINDS, EXPOSURES, SURFACES } from './course-labels.js';

interface Props {
  readonly course?: Course;
  readonly onDone: (saved: Course | undefined) => void;
}

export function CourseForm({ course, onDone }: Props) {
  const [form] = Form.useForm<Record<string, unknown>>();
  const draft = useDraft(`course.${course?.id ?? 'new'}`, form);
  const [save, { isLoading, error }] = useSaveCourseMutation();
  const kind = Form.useWatch('kind', form) as string | undefined;
  const submit = async (values: Record<string, unknown>): Promise<void> => {
    const { name = '', kind, surface, lengthM = null } = values;
    const parsed = courseInputSchema.safeParse({
      name,
      kind,
      surface,
      lengthM,
      climbM: values['climbM'] ?? null,
      climbUncertaintyM: values['climbUncertaintyM'] ?? null,
      notes: values['notes'] ?? '',
      cautions: values['cautions'] ?? '',
      permission: values['permission'] ?? '',
      windExposure: values['windExposure'] ?? null,
      isBothWays: values['isBothWays'] ?? false,
      guessedGradeDeg: values['guessedGradeDeg'] ?? null,
    });
    if (!parsed.success) {
      form.setFields(
        parsed.error.issues.map(({ path, message, code }) => ({
          name: path as string[],
          errors: [code === 'invalid_value' ? 'Choose one.' : message],
        })),
      );
      return;
    }
    const result = await save({ input: parsed.data, ...(course && { stored: course }) });
    if (!('data' in result) || !result.data) return;
    draft.clear();
    onDone(result.data);
  };
  return (
    <Drawer open title={course ? course.name : 'New course'} onClose={() => onDone(undefined)} size={430}>
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        initialValues={course ?? { kind: 'loop', surface: 'asphalt' }}
        onValuesChange={draft.keep}
        onFinish={(values) => void submit(values)}
      >
        <Form.Item name="name" label="Name" extra="For example Level round">
          <Input />
        </Form.Item>
        <Form.Item name="kind" label="Kind">
          <Select options={[...COURSE_KINDS]} />
        </Form.Item>
        <Form.Item
          name="lengthM"
          label="Length"
          rules={[readableNumber]}
          extra="You can type a unit: 9.2 km. A GPS track overrides this."
        >
          <QuantityInput unit="m" />
        </Form.Item>
        {kind !== 'loop' && kind !== 'out-and-back' && (
          <>
            <Form.Item
              name="climbM"
              label="Climb, finish above start"
              rules={[readableNumber]}
              extra="Off a map, a sign or a barometer; below 0 where it goes down. A track with altitude overrides this."
            >
              <QuantityInput unit="m" />
            </Form.Item>
            <Form.Item
              name="climbUncertaintyM"
              label="Climb is known to about, ±"
              rules={[readableNumber]}
              extra="Blank: 3 m or a tenth of the climb, whichever is more."
            >
              <QuantityInput unit="m" />
            </Form.Item>
          </>
        )}
        <Form.Item name="surface" label="Surface">
          <Select options={[...SURFACES]} />
        </Form.Item>
        <Form.Item name="windExposure" label="Wind">
          <Select allowClear placeholder="Unknown" options={[...EXPOSURES]} />
        </Form.Item>
        <Form.Item name="isBothWays" valuePropName="checked">
          <Checkbox>Ridden in both directions</Checkbox>
        </Form.Item>
        <Form.Item
          name="guessedGradeDeg"
          label="Your slope estimate, degrees"
          rules={[readableNumber]}
          extra="Only for comparison with the profile: 7 degrees is 12 %."
        >
          <QuantityInput unit="deg" />
        </Form.Item>
        <Form.Item name="cautions" label="Warnings" extra="Shown on the run sheet and before each ride.">
          <Input.TextArea rows={2} />
        </Form.Item>
        <Form.Item name="permission" label="Permission" extra="Who gave permission to ride here, if needed.">
          <Input.TextArea rows={2} />
        </Form.Item>
        <Form.Item name="notes" label="Notes">
          <Input.TextArea rows={3} />
        </Form.Item>
        {error !== undefined && <Problem error={error} />}
        <div className="actions mt-12">
          <Button type="primary" htmlType="submit" loading={isLoading}>
            Save
          </Button>
          <Button onClick={() => onDone(undefined)}>Cancel</Button>
        </div>
      </Form>
    </Drawer>
  );
}
