import { Slider } from 'antd';
import { startTransition, useOptimistic } from 'react';
import { convertUnit, displayUnit, type UnitName } from '@ebrix/core/units';
import { plain, unitText } from '../../shared/format/format-quantity.js';
import { useUnits } from '../../shared/preferences/index.js';

interface Props {
  readonly label: string;
  readonly value: number;
  readonly unit: UnitName;
  readonly low: number;
  readonly high: number;
  readonly step: number;
  /** Shown in per cent. */
  readonly isShare?: boolean;
  /** Chosen here, not the setup's usual. */
  readonly isChosen: boolean;
  readonly onChange: (value: number) => void;
}

/** A quantity to be pushed about: its name, what it stands at in the person's units, and the slider. */
export function SlideField({ label, value, unit, low, high, step, isShare = false, isChosen, onChange }: Props) {
  const system = useUnits();
  // The handle follows the hand at once; what is worked out of it comes when there is time.
  const [shown, setShown] = useOptimistic(value);
  const push = (at: number): void =>
    startTransition(() => {
      setShown(at);
      onChange(at);
    });
  const to = displayUnit(unit, system);
  const text = (at: number): string =>
    isShare ? `${Math.round(100 * at)} %` : `${plain(convertUnit(at, unit, to), 3)} ${unitText(to)}`.trim();
  return (
    <label className="slide-field">
      <span className={isChosen ? '' : 'quiet'}>{label}</span>
      <output className="figures">{text(shown)}</output>
      <Slider
        value={shown}
        min={low}
        max={high}
        step={step}
        tooltip={{ open: false }}
        ariaLabelForHandle={label}
        ariaValueTextFormatterForHandle={(at) => text(at)}
        onChange={push}
      />
    </label>
  );
}
