import { convertUnit, convertUnitDifference, displayUnit } from '@ebrix/core/units';
import type { FigureDto } from '@ebrix/contract';
import { Said } from '../../shared/ui/SentenceText.js';
import { useUnits } from '../../shared/preferences/index.js';
import { formatFigure, plain, unitText } from '../../shared/format/format-quantity.js';

interface Props {
  readonly figure: FigureDto;
  readonly method: { readonly name: string; readonly version: string };
  readonly onShowSpan?: (span: { fromS: number; toS: number }) => void;
  readonly onClose: () => void;
}

/** How a figure was calculated: formula, numbers, what makes it uncertain and by how much. */
export function Derivation({ figure, method, onShowSpan, onClose }: Props) {
  const system = useUnits();
  const { derivation, label, unit } = figure;
  const { fromS, toS } = derivation;
  const shownUnit = displayUnit(unit, system);
  const shown = formatFigure(figure.value, figure.standardUncertainty, unit, system);
  return (
    <section className="sheet grid gap-8" aria-label={`How ${label} was calculated`}>
      <div className="flex justify-between gap-12">
        <h2>
          How {label.toLowerCase()} {shown} was calculated
        </h2>
        <button type="button" className="figure-button font-inherit" onClick={onClose}>
          Close
        </button>
      </div>
      <p>{derivation.formula}</p>
      <p className="figures">
        <Said text={derivation.substituted} said={derivation.said} />
      </p>
      <p className="quiet">
        From {derivation.inputs.join(', ')}; {figure.n} samples. The true value lies between{' '}
        {figure.interval95.map((bound) => plain(convertUnit(bound, unit, shownUnit))).join(' … ')} {unitText(shownUnit)}{' '}
        95 times in 100.
      </p>
      <table className="rows max-w-620">
        <caption className="unseen">Sources of uncertainty</caption>
        <thead>
          <tr>
            <th scope="col">Sources of uncertainty</th>
            <th scope="col" className="number">
              ± {unitText(shownUnit)}
            </th>
            <th scope="col" className="number">
              share
            </th>
            <th scope="col">over many runs</th>
          </tr>
        </thead>
        <tbody>
          {derivation.contributions.map(({ source, standardUncertainty, share, isSystematic }) => (
            <tr key={source}>
              <td>{source}</td>
              <td className="number">{plain(convertUnitDifference(standardUncertainty, unit, shownUnit), 2)}</td>
              <td className="number">{share >= 0.005 ? `${Math.round(share * 100)} %` : '< 1 %'}</td>
              <td className="quiet">{isSystematic ? 'stays: same instrument' : 'shrinks'}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="quiet text-12-5">
        Method: {method.name} {method.version}.{' '}
        {onShowSpan && fromS !== undefined && toS !== undefined && (
          <button
            type="button"
            className="figure-button font-inherit"

            onClick={() => onShowSpan({ fromS, toS })}
          >
            Show this part of the log
          </button>
        )}
      </p>
    </section>
  );
}
