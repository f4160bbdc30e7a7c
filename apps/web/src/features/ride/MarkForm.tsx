import { Button, Input } from 'antd';
import { useState } from 'react';
import type { RideMarkInput } from '@ebrix/contract';
import { QuantityInput } from '../../shared/ui/QuantityInput.js';

export type MarkFormKind = 'gauge' | 'heart-rate' | 'level' | 'note' | 'temperature' | 'voltage';
type Given = Pick<RideMarkInput, 'kind'> & Partial<RideMarkInput>;

const TITLES: Readonly<Record<MarkFormKind, string>> = {
  temperature: 'Temperature (by hand)',
  gauge: 'Bars lit',
  'heart-rate': 'Heart rate',
  voltage: 'Voltage',
  level: 'Level',
  note: 'Note',
};
const UNITS = { temperature: '°C', gauge: 'level', 'heart-rate': 'bpm', voltage: 'V', level: 'level' } as const;
const PLACES = ['motor', 'controller', 'battery', 'air'] as const;

/** A reading typed with one thumb. */
export function MarkForm({
  kind,
  onDone,
}: {
  readonly kind: MarkFormKind;
  readonly onDone: (given: Given | undefined) => void;
}) {
  const [value, setValue] = useState<number | null>(null);
  const [text, setText] = useState('');
  const [place, setPlace] = useState<(typeof PLACES)[number]>('motor');
  const isReady = kind === 'note' ? text.trim() !== '' : value !== null && Number.isFinite(value);
  const give = (): void => {
    if (!isReady) return;
    onDone(
      kind === 'note' ? { kind, text: text.trim() } : { kind, value, place: kind === 'temperature' ? place : null },
    );
  };
  return (
    <form
      className="console-form"
      aria-label={TITLES[kind]}
      onSubmit={(event) => {
        event.preventDefault();
        give();
      }}
    >
      <h2>{TITLES[kind]}</h2>
      {kind === 'temperature' && (
        <>
          <div className="console-choices four" role="group" aria-label="Where">
            {PLACES.map((one) => (
              <Button
                key={one}
                size="large"
                type={place === one ? 'primary' : 'default'}
                aria-pressed={place === one}
                onClick={() => setPlace(one)}
              >
                {one[0]!.toUpperCase() + one.slice(1)}
              </Button>
            ))}
          </div>
          <p className="quiet">Stand still first; do not measure anything that turns.</p>
        </>
      )}
      {kind === 'note' ? (
        <Input autoFocus aria-label="Note" size="large" value={text} onChange={({ target }) => setText(target.value)} />
      ) : (
        <QuantityInput aria-label={TITLES[kind]} unit={UNITS[kind]} value={value} onChange={setValue} />
      )}
      <div className="console-foot inline">
        <Button size="large" onClick={() => onDone(undefined)}>
          Back
        </Button>
        <Button size="large" type="primary" htmlType="submit" disabled={!isReady}>
          Save note
        </Button>
      </div>
    </form>
  );
}
