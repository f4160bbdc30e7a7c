import type { UnitName } from '@ebrix/core/units';
import { useUnits } from '../preferences/index.js';
import { formatFigure, showFigure, unitText } from '../format/format-quantity.js';

interface Value {
  readonly value: number;
  readonly standardUncertainty: number;
  readonly unit: UnitName;
}

/** `9.62 ± 0.18`, for a column whose head carries the unit. */
export function MeasuredCell({ figure }: { readonly figure: Value | undefined }) {
  const system = useUnits();
  if (!figure) return <span className="quiet">–</span>;
  const { value, uncertainty } = showFigure(figure.value, figure.standardUncertainty, figure.unit, system);
  return (
    <span className="figures nowrap">
      {value} <span className="quiet">± {uncertainty}</span>
    </span>
  );
}

interface ButtonProps {
  readonly figure: Value & { readonly label: string };
  readonly isOpen?: boolean;
  readonly onOpen: () => void;
}

/** A figure that opens its derivation. */
export function FigureButton({ figure, isOpen = false, onOpen }: ButtonProps) {
  const system = useUnits();
  const shown = showFigure(figure.value, figure.standardUncertainty, figure.unit, system);
  return (
    <>
      <button
        type="button"
        className="figure-button"
        aria-expanded={isOpen}
        onClick={onOpen}
        aria-label={`${figure.label}: ${formatFigure(figure.value, figure.standardUncertainty, figure.unit, system)}. How it was calculated`}
      >
        {shown.value}
      </button>
      <span className="quiet figures nowrap">
        {' '}
        ± {shown.uncertainty} {unitText(shown.unit)}
      </span>
    </>
  );
}
