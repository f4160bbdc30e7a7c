import { Button, Form, Modal, Select } from 'antd';
import type { RidingChange, RidingDto } from '@ebrix/contract';
import { Problem } from '../../shared/ui/QueryView.js';
import { useListPartsQuery } from '../../entities/part/index.js';
import { RidingFields, useChangeRidingMutation } from '../../entities/run/index.js';

interface Props {
  readonly runIds: readonly string[];
  readonly onDone: () => void;
  readonly onCancel: () => void;
}
interface Values {
  readonly riding: Partial<RidingDto>;
  readonly riderId?: string;
  readonly loggerId?: string;
}

/** Writes down for many runs at once how they were ridden; what is left empty stays as it is. */
export function RidingForMany({ runIds, onDone, onCancel }: Props) {
  const [change, { isLoading, error }] = useChangeRidingMutation();
  const { data: riders } = useListPartsQuery('riders');
  const { data: loggers } = useListPartsQuery('loggers');
  const save = async ({ riding, riderId, loggerId }: Values): Promise<void> => {
    const given = Object.fromEntries(
      Object.entries(riding).filter(([, value]) => value !== undefined && value !== null && value !== ''),
    ) as RidingChange['riding'];
    const result = await change({
      runIds: [...runIds],
      riding: given,
      ...(riderId !== undefined && { riderId }),
      ...(loggerId !== undefined && { loggerId }),
    });
    if (!('error' in result)) onDone();
  };
  return (
    <Modal
      open
      title={`How ${runIds.length === 1 ? 'this run was' : `these ${runIds.length} runs were`} ridden`}
      footer={null}
      onCancel={onCancel}
      width={520}
    >
      <p className="quiet mb-10">Fields left blank stay as they are.</p>
      <Form<Values> layout="vertical" requiredMark={false} onFinish={(values) => void save(values)}>
        <div className="plan-rules">
          <RidingFields unsaid="as it is" />
          <Form.Item name="riderId" label="Rider">
            <Select
              allowClear
              placeholder="as it is"
              options={(riders ?? []).map(({ id, name }) => ({ value: id, label: name }))}
            />
          </Form.Item>
          <Form.Item name="loggerId" label="Logger">
            <Select
              allowClear
              placeholder="as it is"
              options={(loggers ?? []).map(({ id, name }) => ({ value: id, label: name }))}
            />
          </Form.Item>
        </div>
        {error !== undefined && <Problem error={error} />}
        <div className="actions">
          <Button type="primary" htmlType="submit" loading={isLoading}>
            Save
          </Button>
          <Button onClick={onCancel}>Cancel</Button>
        </div>
      </Form>
    </Modal>
  );
}
