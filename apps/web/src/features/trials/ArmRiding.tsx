import { Button, Form, Modal } from 'antd';
import type { RidingDto } from '@ebrix/contract';
import { RidingFields, toRiding } from '../../entities/run/index.js';

interface Props {
  readonly title: string;
  readonly riding: RidingDto;
  /** Undefined: nothing is to change. */
  readonly onDone: (riding: RidingDto | undefined) => void;
}

/** What is compared may be how a setup is ridden: a level, a payload, throttle or pedals. */
export function ArmRiding({ title, riding, onDone }: Props) {
  return (
    <Modal open title={title} footer={null} onCancel={() => onDone(undefined)} width={480}>
      <p className="quiet mb-10">
        Fill in only what is compared. Runs ridden otherwise, or that do not say how, stand apart and do not count.
      </p>
      <Form
        layout="vertical"
        requiredMark={false}
        initialValues={{ riding }}
        onFinish={(values: { riding: Partial<RidingDto> }) => onDone(toRiding(values.riding))}
      >
        <div className="plan-rules">
          <RidingFields unsaid="not compared" />
        </div>
        <div className="actions">
          <Button type="primary" htmlType="submit">
            Save
          </Button>
          <Button onClick={() => onDone(undefined)}>Cancel</Button>
        </div>
      </Form>
    </Modal>
  );
}
