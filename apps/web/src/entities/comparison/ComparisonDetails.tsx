import type { ComparisonDto } from '@ebrix/contract';
import { plain } from '../../shared/format/format-quantity.js';

const p = (value: number): string => (value < 0.001 ? 'below 0.001' : value.toFixed(3));
const range = ({ lower, upper }: { lower?: number | undefined; upper?: number | undefined }): string =>
  lower === undefined || upper === undefined ? '' : `${plain(lower)} … ${plain(upper)}`;

/** What decides: the pairs of the design, and what its model found. */
function designRows({
  method,
  pairs,
  model,
  repeatability,
}: ComparisonDto): (readonly [string, string, string, string])[] {
  const rows: (readonly [string, string, string, string])[] = [];
  for (const { a, b, difference, ratio, pValue } of pairs) {
    if (!difference) continue;
    const { t, degreesOfFreedom, standardError } = difference;
    rows.push([
      `${method.name}, ${a} − ${b}`,
      plain(difference.estimate),
      range(difference),
      `standard error ${plain(standardError)}, t ${plain(t)}, ${plain(degreesOfFreedom)} degrees of freedom, p ${p(pValue ?? 1)}`,
    ]);
    if (ratio)
      rows.push([
        `${method.name}, ${a} ÷ ${b}`,
        plain(ratio.estimate),
        range(ratio),
        `standard error of the logarithm ${plain(ratio.logStandardError)}, ${plain(ratio.degreesOfFreedom)} degrees of freedom, p ${p(ratio.pValue)}`,
      ]);
  }
  for (const { setup, mean, ...interval } of model?.adjustedMeans ?? [])
    rows.push([
      `Adjusted mean, ${setup}`,
      plain(mean),
      range(interval),
      `standard error ${plain(interval.standardError)}`,
    ]);
  if (model?.residualSd !== undefined)
    rows.push(['Scatter within outings', plain(model.residualSd), '', 'standard deviation']);
  if (model?.groupSd !== undefined)
    rows.push(['Scatter between outings', plain(model.groupSd), '', 'standard deviation']);
  if (model?.slope)
    rows.push([
      'Slope of the condition',
      plain(model.slope.estimate),
      '',
      `standard error ${plain(model.slope.standardError)}, p ${p(model.slope.p)}`,
    ]);
  if (model?.slopesDiffer)
    rows.push(['Same slope for all setups?', '', '', `F ${plain(model.slopesDiffer.f)}, p ${p(model.slopesDiffer.p)}`]);
  if (repeatability)
    rows.push(['Two runs alike differ by less than', plain(repeatability.coefficient), '', '95 times in 100']);
  return rows;
}

/** All the numbers behind a verdict, for those who want to check them. */
export function ComparisonDetails({ comparison }: { readonly comparison: ComparisonDto }) {
  const { twoSetups: two, severalSetups: several } = comparison;
  const rows: (readonly [string, string, string, string])[] = [...designRows(comparison)];
  if (two) {
    rows.push([
      'Welch, difference',
      plain(two.welch.difference),
      range(two.welch),
      `t ${plain(two.welch.t)}, ${plain(two.welch.df)} degrees of freedom, p ${p(two.welch.p)}`,
    ]);
    const { ratioOfGeometricMeans: ratio, hedgesG, mannWhitney, hodgesLehmann, permutation, bootstrapBca } = two;
    if (ratio) rows.push(['Ratio of geometric means', plain(ratio.ratio), range(ratio), `p ${p(ratio.p)}`]);
    if (hedgesG) rows.push(['Hedges g', plain(hedgesG.g), '', 'size of the difference in standard deviations']);
    if (mannWhitney && hodgesLehmann)
      rows.push([
        'Hodges–Lehmann, by ranks',
        plain(hodgesLehmann.estimate),
        range(hodgesLehmann),
        `Mann–Whitney p ${p(mannWhitney.p)}${mannWhitney.exact ? ', exact' : ''}`,
      ]);
    if (bootstrapBca)
      rows.push(['Bootstrap (BCa)', plain(two.welch.difference), range(bootstrapBca), `seed ${comparison.seed}`]);
    if (permutation)
      rows.push([
        'Permutation test',
        '',
        '',
        `p ${p(permutation.p)}, ${permutation.arrangements} arrangements${permutation.exact ? ', all of them' : ''}`,
      ]);
  }
  if (several) {
    const { welchAnova, anova, kruskalWallis } = several;
    if (welchAnova) rows.push(['All setups alike? Welch', '', '', `F ${plain(welchAnova.f)}, p ${p(welchAnova.p)}`]);
    if (anova) rows.push(['All setups alike? one-way', '', '', `F ${plain(anova.f)}, p ${p(anova.p)}`]);
    if (kruskalWallis)
      rows.push(['All setups alike? by ranks', '', '', `H ${plain(kruskalWallis.h)}, p ${p(kruskalWallis.p)}`]);
    for (const pair of several.gamesHowell)
      rows.push([`Games–Howell, ${pair.a} − ${pair.b}`, plain(pair.difference), range(pair), `p ${p(pair.p)}`]);
  }
  return (
    <details>
      <summary className="quiet">All methods and their numbers</summary>
      <div className="scroll-x" tabIndex={0} role="region" aria-label="All methods and their numbers">
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">Method</th>
              <th scope="col">Estimate</th>
              <th scope="col">95 % interval</th>
              <th scope="col">With it</th>
            </tr>
          </thead>
          <tbody>
            {rows.map(([method, estimate, interval, more]) => (
              <tr key={method}>
                <td>{method}</td>
                <td className="figures">{estimate}</td>
                <td className="figures">{interval}</td>
                <td className="quiet">{more}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </details>
  );
}
