import { Button, Checkbox, Form, Input, Radio, Select } from 'antd';
import { trialInputSchema, type RidingDto, type Trial, type TrialInput } from '@ebrix/contract';
import { convertUnitDifference, displayUnit } from '@ebrix/core/units';
import { useUnits } from '../../shared/preferences/index.js';
import { plain } from '../../shared/format/format-quantity.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { QuantityInput, readableNumber } from '../../shared/ui/QuantityInput.js';
import { useDraft } from '../../shared/ui/use-draft.js';
import { useListCoursesQuery } from '../../entities/course/index.js';
import { RidingFields, toRiding } from '../../entities/run/index.js';
import { toTrialInput, useSaveTrialMutation } from '../../entities/trial/index.js';
import { HELD_EQUAL, QUESTION_TEMPLATES, RECORDED } from './question-templates.js';
import { FIGURE_CHOICES, figureChoice } from './figure-choices.js';
import { MEANT_TO_DIFFER_OPTIONS } from './meant-to-differ.js';

interface Values {
  readonly question: string;
  readonly decidingFigure: TrialInput['decidingFigure'];
  readonly kind: 'relative' | 'absolute';
  readonly size: number | null;
  readonly courseId: string | null;
  readonly notes: string;
  readonly furtherFigures: TrialInput['furtherFigures'];
  readonly heldEqual: string[];
  readonly recorded: string[];
  readonly heldRiding: Partial<RidingDto>;
  readonly meantToDiffer: TrialInput['meantToDiffer'];
  readonly countsSimulated: boolean;
}
interface Props {
  readonly trial?: Trial;
  readonly onSaved: (trial: Trial) => void;
}

const EXAMPLES = [
  'Which kit for the level round?',
  'Do puncture-proof tyres cost energy?',
  'Does level 3 go as far as level 2?',
];

/** The question, the figure that decides it, and how small a difference still matters. */
export function QuestionForm({ trial, onSaved }: Props) {
  const system = useUnits();
  const [form] = Form.useForm<Values>();
  const draft = useDraft(`trial.${trial?.id ?? 'new'}`, form);
  const [save, { isLoading, error }] = useSaveTrialMutation();
  const { data: courses } = useListCoursesQuery();
  const kind = Form.useWatch('kind', form) ?? trial?.smallestDifference.kind ?? 'relative';
  const decidingFigure = Form.useWatch('decidingFigure', form) ?? trial?.decidingFigure ?? 'netConsumption';
  const { unit } = figureChoice(decidingFigure);
  const shown = displayUnit(unit, system);
  const initial: Values = trial
    ? {
        question: trial.question,
        decidingFigure: trial.decidingFigure,
        kind: trial.smallestDifference.kind,
        courseId: trial.course?.id ?? null,
        notes: trial.notes,
        furtherFigures: trial.furtherFigures,
        heldEqual: trial.heldEqual,
        recorded: trial.recorded,
        heldRiding: trial.heldRiding,
        meantToDiffer: trial.meantToDiffer,
        countsSimulated: trial.countsSimulated,
        size:
          trial.smallestDifference.kind === 'relative'
            ? trial.smallestDifference.value * 100
            : convertUnitDifference(trial.smallestDifference.value, unit, shown),
      }
    : {
        question: '',
        decidingFigure: 'netConsumption',
        kind: 'relative',
        size: 5,
        courseId: null,
        notes: '',
        furtherFigures: [],
        heldEqual: [],
        recorded: [],
        heldRiding: {},
        meantToDiffer: [],
        countsSimulated: false,
      };
  const submit = async (values: Values): Promise<void> => {
    const value =
      values.kind === 'relative' ? (values.size ?? 0) / 100 : convertUnitDifference(values.size ?? 0, shown, unit);
    const parsed = trialInputSchema.safeParse({
      question: values.question ?? '',
      decidingFigure: values.decidingFigure,
      smallestDifference: { kind: values.kind, value },
      courseId: values.courseId ?? null,
      arms: trial ? toTrialInput(trial).arms : [],
      design: trial?.design ?? null,
      notes: values.notes ?? '',
      furtherFigures: values.furtherFigures ?? [],
      heldEqual: values.heldEqual ?? [],
      recorded: values.recorded ?? [],
      heldRiding: toRiding(values.heldRiding),
      meantToDiffer: values.meantToDiffer ?? [],
      countsSimulated: values.countsSimulated ?? false,
    });
    if (!parsed.success) {
      form.setFields(
        parsed.error.issues.map(({ path, message }) => ({
          name: path[0] === 'smallestDifference' ? 'size' : (path[0] as keyof Values),
          errors: [path[0] === 'smallestDifference' ? 'Must be above 0.' : message],
        })),
      );
      return;
    }
    const result = await save({ input: parsed.data, ...(trial && { stored: trial }) });
    if (!('data' in result) || !result.data) return;
    draft.clear();
    onSaved(result.data);
  };
  return (
    <Form
      form={form}
      layout="vertical"
      requiredMark={false}
      initialValues={initial}
      onValuesChange={draft.keep}
      onFinish={(values) => void submit(values)}
      className="max-w-640"
    >
      {!trial && (
        <Form.Item label="Start from a template" extra="You can change everything afterwards.">
          <Select
            aria-label="Start from a template"
            showSearch={{ optionFilterProp: 'label' }}
            placeholder="Your own question"
            options={QUESTION_TEMPLATES.map(({ name }, value) => ({ value, label: name }))}
            onChange={(index: number) => {
              const { name: _name, smallestPercent, ...values } = QUESTION_TEMPLATES[index]!;
              form.setFieldsValue({ ...values, kind: 'relative', size: smallestPercent });
              draft.keep();
            }}
          />
        </Form.Item>
      )}
      <Form.Item name="question" label="Question" extra={`For example: ${EXAMPLES.join(' ')}`}>
        <Input size="large" autoFocus={!trial} />
      </Form.Item>
      <Form.Item name="decidingFigure" label="Deciding measure">
        <Select
          options={FIGURE_CHOICES.map(({ value, label, isLessBetter }) => ({
            value,
            label: `${label}: ${isLessBetter ? 'less' : 'more'} is better`,
          }))}
        />
      </Form.Item>
      <Form.Item label="Smallest difference that matters" extra="Anything smaller would not change your decision.">
        <div className="actions items-flex-start">
          <div className="w-130">
            <Form.Item name="size" noStyle rules={[readableNumber]}>
              <QuantityInput unit="level" aria-label="Smallest difference that matters" />
            </Form.Item>
          </div>
          <Form.Item name="kind" noStyle>
            <Radio.Group
              aria-label="Given as"
              optionType="button"
              options={[
                { value: 'relative', label: '%' },
                { value: 'absolute', label: shown },
              ]}
            />
          </Form.Item>
        </div>
        <Form.Item shouldUpdate noStyle>
          {() => (
            <span className="quiet">
              {kind === 'relative'
                ? 'per cent of the other setup'
                : `in ${shown}, ${plain(convertUnitDifference(1, shown, unit), 3)} ${unit} each`}
            </span>
          )}
        </Form.Item>
      </Form.Item>
      <Form.Item
        name="courseId"
        label="Course"
        extra="Runs on other courses are ignored. Without one, runs on all courses count together."
      >
        <Select
          allowClear
          showSearch={{ optionFilterProp: 'label' }}
          placeholder="Any course"
          options={(courses ?? []).map(({ id, name }) => ({ value: id, label: name }))}
        />
      </Form.Item>
      <Form.Item name="furtherFigures" label="Other figures to compare">
        <Select
          mode="multiple"
          options={FIGURE_CHOICES.map(({ value, label }) => ({ value, label }))}
          placeholder="Shown alongside; they do not decide"
        />
      </Form.Item>
      <section aria-label="Ridden how, in all runs" className="mb-18">
        <h3 className="mb-2">Ridden how, in all runs</h3>
        <p className="quiet mb-8">
          Runs ridden otherwise stand apart, with the reason, and do not count. What is compared is set with the setups.
        </p>
        <div className="plan-rules">
          <RidingFields prefix={['heldRiding']} unsaid="left open" />
        </div>
      </section>
      <Form.Item
        name="meantToDiffer"
        label="Differs between the setups on purpose"
        extra="Otherwise Ebrix says that it cannot tell the setup from what only ever changes with it."
      >
        <Select mode="multiple" allowClear options={MEANT_TO_DIFFER_OPTIONS} placeholder="Nothing but the setups" />
      </Form.Item>
      <Form.Item name="countsSimulated" valuePropName="checked">
        <Checkbox>Count simulated rides too</Checkbox>
      </Form.Item>
      <Form.Item name="heldEqual" label="Held equal" extra="Kept the same for all setups; printed on the run sheet.">
        <Select mode="tags" options={HELD_EQUAL.map((value) => ({ value, label: value }))} tokenSeparators={[',']} />
      </Form.Item>
      <Form.Item name="recorded" label="Record with every run">
        <Select mode="tags" options={RECORDED.map((value) => ({ value, label: value }))} tokenSeparators={[',']} />
      </Form.Item>
      <Form.Item name="notes" label="Notes">
        <Input.TextArea rows={3} />
      </Form.Item>
      {error !== undefined && <Problem error={error} />}
      <Button type="primary" htmlType="submit" loading={isLoading}>
        {trial ? 'Save' : 'Save and choose setups'}
      </Button>
    </Form>
  );
}
