import type { FigureDto } from '@ebrix/contract';
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
  const shown = formatFigure(figure.value, figure.standardUncertainty, unit, system);
  return (
    <section className="sheet" aria-label={`How ${label} was calculated`} style={{ display: 'grid', gap: 8 }}>
      <div style={{ display: 'flex', justifyContent: 'space-between', gap: 12 }}>
        <h2>
          How {label.toLowerCase()} {shown} was calculated
        </h2>
        <button type="button" className="figure-button" style={{ fontFamily: 'inherit' }} onClick={onClose}>
          Close
        </button>
      </div>
      <p>{derivation.formula}</p>
      <p className="figures">{derivation.substituted}</p>
      <p className="quiet">
        From {derivation.inputs.join(', ')}; {figure.n} samples. The true value lies between{' '}
        {plain(figure.interval95[0])} … {plain(figure.interval95[1])} {unitText(unit)} 95 times in 100.
      </p>
      <table className="rows" style={{ maxWidth: 620 }}>
        <caption className="unseen">Sources of uncertainty</caption>
        <thead>
          <tr>
            <th scope="col">Sources of uncertainty</th>
            <th scope="col" className="number">
              ± {unitText(unit)}
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
              <td className="number">{plain(standardUncertainty, 2)}</td>
              <td className="number">{share >= 0.005 ? `${Math.round(share * 100)} %` : '< 1 %'}</td>
              <td className="quiet">{isSystematic ? 'stays: same instrument' : 'shrinks'}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="quiet" style={{ fontSize: 12.5 }}>
        Method: {method.name} {method.version}.{' '}
        {onShowSpan && fromS !== undefined && toS !== undefined && (
          <button
            type="button"
            className="figure-button"
            style={{ fontFamily: 'inherit' }}
            onClick={() => onShowSpan({ fromS, toS })}
          >
            Show this part of the log
          </button>
        )}
      </p>
    </section>
  );
}
