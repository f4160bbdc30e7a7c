import type { FigureDto } from '@ebrix/contract';
import { FigureButton } from '../../shared/ui/Measured.js';

interface Props {
  readonly figures: readonly FigureDto[];
  readonly open: string | null;
  readonly onOpen: (key: string | null) => void;
}

/** Figures first looked at; the rest stand in the table below. */
export const HEADLINE_FIGURES = ['netConsumption', 'distance', 'meanMovingSpeed', 'rangeWithReserve', 'energyOut'];

/** A test of its own kind puts its own figures before those of the ride, which begin with the distance. */
function headlineOf(figures: readonly FigureDto[]): readonly FigureDto[] {
  const own = figures.findIndex(({ key }) => key === 'distance');
  if (own !== 0) return figures.slice(0, Math.min(own < 0 ? figures.length : own, HEADLINE_FIGURES.length));
  return HEADLINE_FIGURES.flatMap((key) => figures.find((figure) => figure.key === key) ?? []);
}

export function FigureStrip({ figures, open, onOpen }: Props) {
  const headline = headlineOf(figures);
  return (
    <div className="figure-strip">
      {headline.map((figure) => (
        <div key={figure.key}>
          <div className="quiet text-12-5">{figure.label}</div>
          <FigureButton
            figure={figure}
            isOpen={open === figure.key}
            onOpen={() => onOpen(open === figure.key ? null : figure.key)}
          />
        </div>
      ))}
    </div>
  );
}

export function FigureTable({ figures, open, onOpen }: Props) {
  return (
    <table className="rows">
      <caption className="unseen">All figures</caption>
      <tbody>
        {figures.map((figure) => (
          <tr key={figure.key}>
            <th scope="row" style={{ fontWeight: 400, color: 'var(--ink)', fontSize: 14 }}>
              {figure.label}
            </th>
            <td className="align-right nowrap">
              <FigureButton
                figure={figure}
                isOpen={open === figure.key}
                onOpen={() => onOpen(open === figure.key ? null : figure.key)}
              />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
