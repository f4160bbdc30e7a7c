import { Button, Form, Input, Select } from 'antd';
import { elsewhereInputSchema, type FoundElsewhere, type Trial } from '@ebrix/contract';
import { FileDrop } from '../../shared/ui/FileDrop.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { QuantityInput, readableNumber } from '../../shared/ui/QuantityInput.js';
import { useAddElsewhereMutation, useReadElsewhereMutation } from './elsewhere-api.js';

interface Typed {
  readonly tester: string;
  readonly a: string;
  readonly b: string;
  /** Differences in per cent of b, as one reads them in a report. */
  readonly difference: number | null;
  readonly from: number | null;
  readonly to: number | null;
  readonly runs: number | null;
  readonly note: string;
}
const toRatio = (percent: number | null): number => (percent === null ? NaN : 1 + percent / 100);
const toPercent = (ratio: number): number => Number((100 * (ratio - 1)).toPrecision(4));

/** Adds what another tester found: from their report by hand, or from their data package. */
export function ElsewhereForm({ trial }: { readonly trial: Trial }) {
  const [form] = Form.useForm<Typed>();
  const [add, adding] = useAddElsewhereMutation();
  const [read, reading] = useReadElsewhereMutation();
  const letters = trial.setups.map(({ letter, name }) => ({ value: letter, label: `${letter} ${name}` }));
  const submit = async (typed: Typed): Promise<void> => {
    const parsed = elsewhereInputSchema.safeParse({
      tester: typed.tester,
      a: typed.a,
      b: typed.b,
      ratio: toRatio(typed.difference),
      lower: toRatio(typed.from),
      upper: toRatio(typed.to),
      runs: typed.runs,
      note: typed.note,
    });
    if (!parsed.success) {
      const [issue] = parsed.error.issues;
      const field = { ratio: 'difference', lower: 'from', upper: 'to' }[String(issue!.path[0])] ?? issue!.path[0];
      form.setFields([{ name: (field ?? 'difference') as keyof Typed, errors: [issue!.message] }]);
      return;
    }
    const result = await add({ trialId: trial.id, input: parsed.data });
    if (result.data) form.resetFields();
  };
  const fill = ({ question, a, b, ratio, lower, upper, runs }: FoundElsewhere): void =>
    form.setFieldsValue({
      difference: toPercent(ratio),
      from: toPercent(lower),
      to: toPercent(upper),
      runs,
      note: `${a} against ${b}: ${question}`.slice(0, 400),
    });
  return (
    <div className="mt-8 max-w-980">
      <FileDrop
        label="Choose their data package"
        hint="or drop it here; or write it down from their report below"
        accept=".zip"
        isBusy={reading.isLoading}
        onFiles={([file]) => file && void read(file)}
      />
      {reading.error !== undefined && <Problem error={reading.error} />}
      {reading.data?.length === 0 && <p className="mt-8">The package holds no trial with an answer in ratios.</p>}
      {reading.data && reading.data.length > 0 && (
        <ul className="turns mt-8" aria-label="Pairs in their package">
          {reading.data.map((found, k) => (
            <li key={k} className="study-line">
              <span>
                {found.a} against {found.b}: {toPercent(found.ratio)} % in {found.figure}{' '}
                <span className="quiet">{found.question}</span>
              </span>
              <Button size="small" onClick={() => fill(found)}>
                Use it
              </Button>
            </li>
          ))}
        </ul>
      )}
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        className="mt-8"
        initialValues={{ a: letters[0]?.value, b: letters[1]?.value, tester: '', note: '', runs: null }}
        onFinish={(typed) => void submit(typed)}
      >
        <div className="field-grid">
          <Form.Item name="tester" label="Tester">
            <Input maxLength={80} />
          </Form.Item>
          <Form.Item name="a" label="Setup">
            <Select options={letters} aria-label="Setup" />
          </Form.Item>
          <Form.Item name="b" label="Against">
            <Select options={letters} aria-label="Against" />
          </Form.Item>
          <Form.Item name="difference" label="Difference, % of the other" rules={[readableNumber]}>
            <QuantityInput unit="level" />
          </Form.Item>
          <Form.Item name="from" label="95 % interval from, %" rules={[readableNumber]}>
            <QuantityInput unit="level" />
          </Form.Item>
          <Form.Item name="to" label="to, %" rules={[readableNumber]}>
            <QuantityInput unit="level" />
          </Form.Item>
          <Form.Item name="runs" label="Runs, if known" rules={[readableNumber]}>
            <QuantityInput unit="level" />
          </Form.Item>
          <Form.Item name="note" label="Note">
            <Input maxLength={400} />
          </Form.Item>
        </div>
        {adding.error !== undefined && <Problem error={adding.error} />}
        <Button htmlType="submit" loading={adding.isLoading}>
          Add it
        </Button>
      </Form>
    </div>
  );
}
