import type { FittingRecord } from '@ebrix/core/bench';
import { Button, Form, Input, Select } from 'antd';
import type { ReactNode } from 'react';
import { QuantityInput, readableNumber } from '../../shared/ui/QuantityInput.js';

export function Section({
  title,
  say,
  children,
}: {
  readonly title: string;
  readonly say?: string;
  readonly children: ReactNode;
}) {
  return (
    <section aria-label={title} className="section">
      <h2 className="mb-8">{title}</h2>
      {say && <p className="quiet mb-12">{say}</p>}
      {children}
    </section>
  );
}

interface Cell {
  readonly name: string;
  readonly label: string;
  readonly choices?: readonly { readonly value: string | boolean; readonly label: string }[];
  readonly unit?: 'V';
}
interface LinesProps {
  readonly name: keyof FittingRecord;
  readonly label: string;
  readonly cells: readonly Cell[];
  readonly first: object;
  readonly add: string;
  readonly more?: ReactNode;
}
/** Rows of a few fields, one below the other; labels stand over the first row only. */
export function Lines({ name, label, cells, first, add, more }: LinesProps) {
  return (
    <Form.List name={name}>
      {(items, list) => (
        <div role="group" aria-label={label}>
          {items.map(({ key, name: at }, k) => (
            <div key={key} className={`line-item of-${cells.length}${k > 0 ? ' follows' : ''}`}>
              {cells.map(({ name: field, label: words, choices, unit }) => (
                <Form.Item key={field} name={[at, field]} label={words} rules={unit ? [readableNumber] : []}>
                  {choices ? (
                    <Select options={[...choices]} aria-label={`${words} ${k + 1}`} />
                  ) : unit ? (
                    <QuantityInput unit={unit} />
                  ) : (
                    <Input maxLength={400} />
                  )}
                </Form.Item>
              ))}
              <Button onClick={() => list.remove(at)} aria-label={`Remove line ${k + 1} of ${label}`}>
                Remove
              </Button>
            </div>
          ))}
          <div className="actions">
            <Button onClick={() => list.add(first)}>{add}</Button>
            {more}
          </div>
        </div>
      )}
    </Form.List>
  );
}
