import type { WeighedForUse } from '@ebrix/core/decision';
import type { WeighUp } from '@ebrix/contract';
import { setupColour, SetupMark } from '../../shared/ui/SetupMark.js';
import { inHundred } from './live-use.js';

interface Props {
  readonly answer: WeighUp;
  readonly weighed: WeighedForUse;
}

/** The sentence, and for each setup in how many of 100 draws it is the best and keeps every bound. */
export function Outcome({ answer, weighed }: Props) {
  const hasBounds = answer.mustHaves.length > 0;
  return (
    <section aria-label="Answer">
      <p className="use-answer">{weighed.words}</p>
      <div className="scroll-x">
        <table className="rows outcome">
          <thead>
            <tr>
              <th scope="col">Setup</th>
              <th scope="col">Best, in 100</th>
              {hasBounds && <th scope="col">Keeps all, in 100</th>}
              <th scope="col">Worth, 0 to 100</th>
            </tr>
          </thead>
          <tbody>
            {weighed.setups.map(({ name, isBest, meetsAll, breaks, worth }) => {
              const { letter } = answer.setups.find((setup) => setup.name === name)!;
              return (
                <tr key={name}>
                  <td>
                    <SetupMark letter={letter} label={name} />
                  </td>
                  <td>
                    <span className="share-bar" aria-hidden="true">
                      <span style={{ width: `${100 * isBest}%`, background: setupColour(letter) }} />
                    </span>
                    <span className="figures">{inHundred(isBest)}</span>
                  </td>
                  {hasBounds && (
                    <td>
                      <span className="figures">{inHundred(meetsAll)}</span>
                      {breaks.length > 0 && (
                        <span className="quiet">
                          {' '}
                          misses {breaks.map(({ label, share }) => `${label} in ${inHundred(share)}`).join(', ')}
                        </span>
                      )}
                    </td>
                  )}
                  <td>
                    <WorthSpan {...worth} letter={letter} />
                    <span className="figures">{Math.round(100 * worth.mean)}</span>{' '}
                    <span className="quiet figures">
                      {Math.round(100 * worth.low)} to {Math.round(100 * worth.high)}
                    </span>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      <p className="quiet mt-6">
        4 000 draws of what is known and how well: scatter of runs, instruments, parts, riders. A share of draws is no
        promise.
        {weighed.noneMeets > 0 && ` In ${inHundred(weighed.noneMeets)} of 100 none keeps every bound.`}
      </p>
      {weighed.leftOut.length > 0 && (
        <ul className="quiet mt-6 left-out">
          {weighed.leftOut.map(({ name, missing }) => (
            <li key={name}>
              {name} is left out: not known are {missing.map((key) => labelIn(answer, key)).join(', ')}.
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

export function labelIn({ criteria, mustHaves }: WeighUp, key: string): string {
  const found = criteria.find((one) => one.key === key) ?? mustHaves.find((one) => one.key === key);
  return found ? found.label.charAt(0).toLowerCase() + found.label.slice(1) : key;
}

const WIDTH = 120;
/** Mean and span that holds 95 of 100 draws, on 0 to 100. */
function WorthSpan({
  mean,
  low,
  high,
  letter,
}: {
  readonly mean: number;
  readonly low: number;
  readonly high: number;
  readonly letter: WeighUp['setups'][number]['letter'];
}) {
  return (
    <svg width={WIDTH} height={14} aria-hidden="true" className="worth-span">
      <line x1={0} x2={WIDTH} y1={7} y2={7} stroke="var(--hairline)" />
      <line x1={low * WIDTH} x2={high * WIDTH} y1={7} y2={7} stroke={setupColour(letter)} strokeWidth={4} />
      <line x1={mean * WIDTH} x2={mean * WIDTH} y1={1} y2={13} stroke="var(--ink)" strokeWidth={2} />
    </svg>
  );
}
