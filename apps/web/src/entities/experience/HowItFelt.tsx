import { EXPERIENCE_SCALES, summariseRatings, type Agreement, type RatedScale } from '@ebrix/core/experience';
import type { Letter, RatingDto } from '@ebrix/contract';
import { SetupMark } from '../../shared/ui/SetupMark.js';

export const AGREEMENTS: Readonly<Record<Agreement, string>> = {
  agree: 'riders agree',
  mostly: 'most agree',
  divided: 'riders are divided',
  'one-rider': 'one rider',
};

interface Props {
  readonly sides: readonly { readonly letter: Letter; readonly name: string; readonly revisionId: string }[];
  readonly ratings: readonly RatingDto[];
}

/** What riders say of the setups of a trial: beside the figures, never in them. */
export function HowItFelt({ sides, ratings }: Props) {
  const rated = sides.map((side) => ({
    ...side,
    scales: summariseRatings(ratings.filter(({ revisionId }) => revisionId === side.revisionId)),
  }));
  const keys = Object.keys(EXPERIENCE_SCALES).filter((key) => rated.some(({ scales }) => of(scales, key)));
  if (keys.length === 0) return null;
  return (
    <details>
      <summary className="quiet">How they felt, by {countRiders(ratings)}</summary>
      <p className="quiet mt-6 mb-6 max-w-760">
        Steps from 1 to 5 with words, 5 the better: the riders’ median. Words are no measurement; nothing of this is in
        the verdict.
      </p>
      <div className="scroll-x">
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">Scale</th>
              {rated.map(({ letter, name }) => (
                <th scope="col" key={letter}>
                  <SetupMark letter={letter} label={name} />
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {keys.map((key) => (
              <tr key={key}>
                <td>{EXPERIENCE_SCALES[key as keyof typeof EXPERIENCE_SCALES].label}</td>
                {rated.map(({ letter, scales }) => (
                  <td key={letter}>{cell(of(scales, key))}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </details>
  );
}

const of = (scales: readonly RatedScale[], key: string): RatedScale | undefined =>
  scales.find((scale) => scale.key === key);

function cell(scale: RatedScale | undefined) {
  if (!scale) return <span className="quiet">–</span>;
  return (
    <>
      <span className="figures">{scale.median}</span>{' '}
      <span className="quiet">
        {AGREEMENTS[scale.agreement]}
        {scale.highest > scale.lowest && `, ${scale.lowest} to ${scale.highest}`}
        {scale.blindRiders > 0 && `, ${scale.blindRiders} without knowing which`}
      </span>
    </>
  );
}

function countRiders(ratings: readonly RatingDto[]): string {
  const riders = new Set(ratings.map(({ rider }) => rider.trim().toLowerCase())).size;
  return riders === 1 ? 'one rider' : `${riders} riders`;
}
