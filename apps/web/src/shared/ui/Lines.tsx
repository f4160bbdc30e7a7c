import type { UnitName } from '@ebrix/core/units';
import { Button, Form, Input, Select } from 'antd';
import type { ReactNode } from 'react';
import { QuantityInput, readableNumber } from './QuantityInput.js';

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
  readonly name: string | readonly (string | number)[];
  readonly label: string;
  readonly choices?: readonly { readonly value: string | boolean; readonly label: string }[];
  readonly unit?: UnitName;
  /** A day, as the calendar has it. */
  readonly isDay?: boolean;
}
interface LinesProps {
  readonly name: string | readonly (string | number)[];
  readonly label: string;
  readonly cells: readonly Cell[];
  readonly first: object;
  readonly add: string;
  readonly more?: ReactNode;
  /** Widths of its own. */
  readonly className?: string;
}
/** Rows of a few fields, one below the other; labels stand over the first row only. */
export function Lines({ name, label, cells, first, add, more, className }: LinesProps) {
  return (
    <Form.List name={name as string | (string | number)[]}>
      {(items, list) => (
        <div role="group" aria-label={label}>
          {items.map(({ key, name: at }, k) => (
            <div key={key} className={`line-item ${className ?? `of-${cells.length}`}${k > 0 ? ' follows' : ''}`}>
              {cells.map(({ name: field, label: words, choices, unit, isDay }) => (
                <Form.Item
                  key={words}
                  name={[at, ...[field].flat()]}
                  label={words}
                  rules={unit ? [readableNumber] : []}
                >
                  {choices ? (
                    <Select options={[...choices]} aria-label={`${words} ${k + 1}`} />
                  ) : unit ? (
                    <QuantityInput unit={unit} />
                  ) : isDay ? (
                    <Input type="date" />
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
