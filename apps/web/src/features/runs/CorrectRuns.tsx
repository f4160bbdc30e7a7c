import { Button, Form, Modal, Select } from 'antd';
import { useState } from 'react';
import { type RidingChange, type RidingDto, type RunSummary } from '@ebrix/contract';
import { ridingText } from '@ebrix/core/compare';
import { useUnits } from '../../shared/preferences/index.js';
import { formatDay, formatQuantity } from '../../shared/format/format-quantity.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { useListPartsQuery } from '../../entities/part/index.js';
import { useListOutingsQuery } from '../../entities/outing/index.js';
import { RidingFields, useChangeRidingMutation, WheelFactorInput } from '../../entities/run/index.js';

interface Props {
  readonly runs: readonly RunSummary[];
  readonly onDone: () => void;
  readonly onCancel: () => void;
}
interface Values {
  readonly riding?: Partial<RidingDto>;
  readonly riderId?: string;
  readonly loggerId?: string;
  readonly outingId?: string;
  readonly wheelFactor?: number | null;
}

/** Corrects many runs at once: what is left empty stays as it is, and what changes is shown before it does. */
export function CorrectRuns({ runs, onDone, onCancel }: Props) {
  const [form] = Form.useForm<Values>();
  const [change, { isLoading, error }] = useChangeRidingMutation();
  const [previewed, setPreviewed] = useState<RidingChange>();
  const { data: riders } = useListPartsQuery('riders');
  const { data: loggers } = useListPartsQuery('loggers');
  const { data: outings } = useListOutingsQuery();
  const nameOf = (list: readonly { id: string; name: string }[] | undefined, id: string | null | undefined) =>
    list?.find((one) => one.id === id)?.name ?? '';
  const outingName = (id: string | undefined): string => {
    const outing = outings?.find((one) => one.id === id);
    return outing ? `${formatDay(outing.date)}${outing.title ? `, ${outing.title}` : ''}` : '';
  };
  const save = async (): Promise<void> => {
    if (previewed && !('error' in (await change(previewed)))) onDone();
  };
  return (
    <Modal
      open
      title={runs.length === 1 ? 'Correct this run' : `Correct ${runs.length} runs`}
      footer={null}
      onCancel={onCancel}
      width={620}
    >
      <div hidden={previewed !== undefined}>
        <p className="quiet mb-10">Fields left blank stay as they are.</p>
        <Form<Values>
          form={form}
          layout="vertical"
          requiredMark={false}
          onFinish={(values) => setPreviewed(changeOf(runs, values))}
        >
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
            <Form.Item name="outingId" label="Outing">
              <Select
                allowClear
                placeholder="as it is"
                popupMatchSelectWidth={false}
                showSearch={{ optionFilterProp: 'label' }}
                options={(outings ?? []).map(({ id }) => ({ value: id, label: outingName(id) }))}
              />
            </Form.Item>
            <Form.Item
              name="wheelFactor"
              label="Wheel circumference, true/set"
              tooltip="Where the display or logger had it wrong, in mm: 2070/2105. 1 takes a correction back"
            >
              <WheelFactorInput placeholder="as it is" />
            </Form.Item>
          </div>
          <div className="actions">
            <Button type="primary" htmlType="submit">
              Show what changes
            </Button>
            <Button onClick={onCancel}>Cancel</Button>
          </div>
        </Form>
      </div>
      {previewed && (
        <>
          {Object.keys(previewed.riding).length === 0 && Object.keys(previewed).length === 2 ? (
            <p>Nothing is filled in: nothing would change.</p>
          ) : (
            <div className="scroll-x" style={{ maxHeight: 360 }}>
              <table className="rows">
                <thead>
                  <tr>
                    <th scope="col">Run</th>
                    <th scope="col">As it is</th>
                    <th scope="col">As it will be</th>
                  </tr>
                </thead>
                <tbody>
                  {runs.map((run) => (
                    <PreviewRow
                      key={run.id}
                      run={run}
                      change={previewed}
                      names={{
                        rider: nameOf(riders, previewed.riderId),
                        logger: nameOf(loggers, previewed.loggerId),
                        outing: outingName(previewed.outingId),
                      }}
                    />
                  ))}
                </tbody>
              </table>
            </div>
          )}
          {error !== undefined && <Problem error={error} />}
          <div className="actions mt-10">
            <Button
              type="primary"
              loading={isLoading}
              disabled={Object.keys(previewed.riding).length === 0 && Object.keys(previewed).length === 2}
              onClick={() => void save()}
            >
              {runs.length === 1 ? 'Change this run' : `Change these ${runs.length} runs`}
            </Button>
            <Button onClick={() => setPreviewed(undefined)}>Back</Button>
          </div>
        </>
      )}
    </Modal>
  );
}

function changeOf(runs: readonly RunSummary[], values: Values): RidingChange {
  const { riding = {}, riderId, loggerId, outingId, wheelFactor } = values;
  const given = Object.fromEntries(
    Object.entries(riding).filter(([, value]) => value !== undefined && value !== null && value !== ''),
  ) as RidingChange['riding'];
  return {
    runIds: runs.map(({ id }) => id),
    riding: given,
    ...(riderId !== undefined && { riderId }),
    ...(loggerId !== undefined && { loggerId }),
    ...(outingId !== undefined && { outingId }),
    ...(typeof wheelFactor === 'number' && { wheelFactor: wheelFactor === 1 ? null : wheelFactor }),
  };
}

/** Only what is changed. */
function withoutUndefined(riding: RidingChange['riding']): Partial<RidingDto> {
  return Object.fromEntries(Object.entries(riding).filter(([, value]) => value !== undefined));
}

interface PreviewProps {
  readonly run: RunSummary;
  readonly change: RidingChange;
  readonly names: { readonly rider: string; readonly logger: string; readonly outing: string };
}

function PreviewRow({ run, change, names }: PreviewProps) {
  const system = useUnits();
  const { riding, riderId, loggerId, outingId, wheelFactor } = change;
  const changesRiding = Object.keys(riding).length > 0;
  const distance = run.figures.distance;
  // What an earlier correction did is not in the list: only the factor is told then.
  const before = [
    ...(changesRiding ? [ridingText(run.riding) || 'way of riding not written down'] : []),
    ...(outingId === undefined ? [] : [formatDay(run.outing.date) + (run.outing.title ? `, ${run.outing.title}` : '')]),
    ...(wheelFactor === undefined || !distance ? [] : [formatQuantity(distance.value, 'km', system)]),
  ];
  const after = [
    ...(changesRiding ? [ridingText({ ...run.riding, ...withoutUndefined(riding) }) || 'as it is'] : []),
    ...(outingId === undefined ? [] : [names.outing]),
    ...(wheelFactor === undefined
      ? []
      : wheelFactor === null
        ? ['wheel as it was counted']
        : run.wheelFactor === null && distance
          ? [`${formatQuantity(distance.value * wheelFactor, 'km', system)} (wheel × ${wheelFactor})`]
          : [`wheel × ${wheelFactor} of what was counted`]),
    ...(riderId === undefined ? [] : [`ridden by ${names.rider}`]),
    ...(loggerId === undefined ? [] : [`logged by ${names.logger}`]),
  ];
  return (
    <tr>
      <td>
        {formatDay(run.outing.date)}, {run.setup.name}
        <div className="quiet break-anywhere">{run.fileName}</div>
      </td>
      <td className="quiet">{before.join('; ') || '–'}</td>
      <td>{after.join('; ')}</td>
    </tr>
  );
}
