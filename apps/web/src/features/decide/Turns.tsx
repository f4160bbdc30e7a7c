import type { WeighedForUse } from '@ebrix/core/decision';
import type { WeighUp } from '@ebrix/contract';
import { plain } from '../../shared/format/format-quantity.js';
import { inHundred } from './live-use.js';
import { labelIn } from './Outcome.js';

interface Props {
  readonly answer: WeighUp;
  readonly weighed: WeighedForUse;
}

/** Weights go to ten; what needs more than twice that does not happen. */
const WITHIN_REACH = 20;
/** Below this weight it is as good as none. */
const NEARLY_NONE = 0.1;
/** A run that turns the choice less often tells nothing. */
const TELLS = 0.005;

/** What would turn the order: weights, and one more run. */
export function Turns({ answer, weighed }: Props) {
  const moving = weighed.ranges
    .map((range) => ({ ...range, highBy: range.high !== null && range.high <= WITHIN_REACH ? range.highBy : null }))
    .filter(({ lowBy, highBy }) => lowBy !== null || highBy !== null);
  const telling = weighed.measuring.filter(({ turns }) => turns >= TELLS);
  return (
    <>
      <h2 className="mb-8">What would turn it</h2>
      {moving.length === 0 ? (
        <p className="quiet">No single weight turns the order, however far it is moved.</p>
      ) : (
        <ul className="turns">
          {moving.map(({ key, label, low, lowBy, high, highBy }) => (
            <li key={key}>
              <strong>{label}</strong>
              {lowBy !== null && (
                <span>
                  {low < NEARLY_NONE ? 'without it' : `below ${plain(low, 2)}`}: {lowBy}
                </span>
              )}
              {highBy !== null && high !== null && (
                <span>
                  above {plain(high, 2)}: {highBy}
                </span>
              )}
            </li>
          ))}
        </ul>
      )}
      {weighed.dominated.length > 0 && (
        <>
          <h2 className="mt-12 mb-8">Beaten in everything that counts</h2>
          <ul className="turns">
            {weighed.dominated.map(({ name, by }) => (
              <li key={name}>
                <strong>{name}</strong>
                <span>by {by}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      <h2 className="mt-12 mb-8">What one more run would tell</h2>
      {telling.length === 0 ? (
        <p className="quiet">Nothing that would change the choice.</p>
      ) : (
        <ul className="turns">
          {telling.slice(0, 3).map(({ name, key, turns }) => (
            <li key={`${name} ${key}`}>
              <strong>{name}</strong>
              <span>
                for {labelIn(answer, key)}: another choice in {inHundred(turns)} of 100
              </span>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
