import { Button, Input, InputNumber, Select } from 'antd';
import { useState, type ReactNode } from 'react';
import type { ManualReadingsDto } from '@ebrix/contract';
import { MOTOR_TOUCHES, type MotorTouch, type TestKind } from '@ebrix/core/analysis';
import { QuantityInput } from '../../shared/ui/QuantityInput.js';
import {
  ALL_READINGS,
  NUMBER_READINGS,
  readBarsOut,
  READINGS_OF,
  readNumbers,
  SEVERAL_READINGS,
  type NumberReading,
  type ReadingName,
} from './readings.js';

interface Props {
  readonly kind: TestKind;
  readonly value?: ManualReadingsDto | null;
  readonly onChange?: (value: ManualReadingsDto | null) => void;
  /** Asked elsewhere on the page. */
  readonly without?: readonly ReadingName[];
}
type Put = (key: ReadingName, value: unknown) => void;

/** What display, phone and hand showed: the readings that tell most in this kind of test, the others below. */
export function ReadingsFields({ kind, value, onChange, without = [] }: Props) {
  const readings = value ?? {};
  const put: Put = (key, given) => {
    const { [key]: _before, ...rest } = readings;
    const next = given === null || given === undefined ? rest : { ...rest, [key]: given };
    onChange?.(Object.keys(next).length > 0 ? next : null);
  };
  const asked = READINGS_OF[kind].filter((key) => !without.includes(key));
  const others = ALL_READINGS.filter((key) => !asked.includes(key) && !without.includes(key));
  const field = (key: ReadingName): ReactNode => <Reading key={key} name={key} {...{ readings, put }} />;
  return (
    <>
      <div className="readings">{asked.map(field)}</div>
      <details>
        <summary>More readings</summary>
        <div className="readings mt-8">{others.map(field)}</div>
      </details>
    </>
  );
}

function Reading({
  name,
  readings,
  put,
}: {
  readonly name: ReadingName;
  readonly readings: ManualReadingsDto;
  readonly put: Put;
}) {
  const number = NUMBER_READINGS.find(([key]) => key === name);
  if (number)
    return (
      <label>
        {number[1]}
        <QuantityInput
          unit={number[2]}
          value={readings[name as NumberReading] ?? null}
          onChange={(value) => !Number.isNaN(value) && put(name, value)}
        />
      </label>
    );
  const several = SEVERAL_READINGS.find(([key]) => key === name);
  if (several)
    return (
      <TextReading
        label={`${several[1]}, ${several[2]}`}
        placeholder="0.6 0.8 0.7"
        shown={(readings[several[0]] ?? []).join(' ')}
        read={(text) => readNumbers(text)}
        onRead={(value) => put(name, value.length > 0 ? value : null)}
      />
    );
  switch (name) {
    case 'barsOut':
      return (
        <TextReading
          label="A bar went out: bars left at km"
          placeholder="4 at 3.2; 3 at 6.1"
          shown={(readings.barsOut ?? []).map(({ left, km }) => `${left} at ${km}`).join('; ')}
          read={readBarsOut}
          onRead={(value) => put(name, value.length > 0 ? value : null)}
        />
      );
    case 'motorTouch':
      return (
        <label>
          Motor by hand
          <Select
            allowClear
            value={readings.motorTouch ?? null}
            onChange={(value: MotorTouch | undefined) => put(name, value)}
            options={Object.entries(MOTOR_TOUCHES).map(([value, { label }]) => ({ value, label }))}
          />
          <span className="quiet">Standing, wheel at rest. Begin with the back of the hand, and do not press on.</span>
        </label>
      );
    case 'cutBacks':
      return (
        <label>
          Times the motor held back
          <InputNumber
            min={0}
            max={1000}
            precision={0}
            className="w-100-pct"
            value={readings.cutBacks ?? null}
            onChange={(value) => put(name, value)}
          />
        </label>
      );
    default:
      return (
        <LevelTable rows={readings.levelTable ?? []} onRows={(rows) => put(name, rows.length > 0 ? rows : null)} />
      );
  }
}

interface TextProps<T> {
  readonly label: string;
  readonly placeholder: string;
  readonly shown: string;
  readonly read: (text: string) => T | undefined;
  readonly onRead: (value: T) => void;
}

/** Several readings in one field: what cannot be read is said, and kept as typed. */
function TextReading<T>({ label, placeholder, shown, read, onRead }: TextProps<T>) {
  const [typed, setTyped] = useState<string>();
  const isUnread = typed !== undefined && read(typed) === undefined;
  return (
    <label>
      {label}
      <Input
        value={typed ?? shown}
        placeholder={placeholder}
        status={isUnread ? 'error' : ''}
        onChange={({ target }) => {
          setTyped(target.value);
          const value = read(target.value);
          if (value !== undefined) onRead(value);
        }}
        onBlur={() => !isUnread && setTyped(undefined)}
      />
      {isUnread && <span className="problem">Write it like this: {placeholder}</span>}
    </label>
  );
}

type LevelRow = NonNullable<ManualReadingsDto['levelTable']>[number];

/** Level, steady speed, watts: a line each. */
function LevelTable({
  rows,
  onRows,
}: {
  readonly rows: readonly LevelRow[];
  readonly onRows: (rows: LevelRow[]) => void;
}) {
  const change = (index: number, more: Partial<LevelRow>): void =>
    onRows(rows.map((row, k) => (k === index ? { ...row, ...more } : row)));
  return (
    <div style={{ gridColumn: '1 / -1' }}>
      <table className="rows level-readings" aria-label="Readings by level">
        <thead>
          <tr>
            <th scope="col">Level</th>
            <th scope="col">Steady speed</th>
            <th scope="col">Watts</th>
            <th scope="col">
              <span className="unseen">Remove</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row, k) => (
            <tr key={k}>
              <td>
                <InputNumber
                  aria-label={`Level of line ${k + 1}`}
                  min={0}
                  max={20}
                  precision={0}
                  value={row.level}
                  onChange={(level) => level !== null && change(k, { level })}
                />
              </td>
              <td>
                <QuantityInput
                  aria-label={`Steady speed of line ${k + 1}`}
                  unit="km/h"
                  value={row.speedKmh ?? null}
                  onChange={(value) => !Number.isNaN(value) && change(k, { speedKmh: value ?? undefined })}
                />
              </td>
              <td>
                <QuantityInput
                  aria-label={`Watts of line ${k + 1}`}
                  unit="W"
                  value={row.powerW ?? null}
                  onChange={(value) => !Number.isNaN(value) && change(k, { powerW: value ?? undefined })}
                />
              </td>
              <td>
                <Button
                  size="small"
                  aria-label={`Remove line ${k + 1}`}
                  onClick={() => onRows(rows.filter((_, j) => j !== k))}
                >
                  ×
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Button size="small" onClick={() => onRows([...rows, { level: (rows.at(-1)?.level ?? 0) + 1 }])}>
        Add a level
      </Button>
    </div>
  );
}
