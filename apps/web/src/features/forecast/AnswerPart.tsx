import { useUnits } from '../../shared/preferences/index.js';
import { SetupMark, setupColour } from '../../shared/ui/SetupMark.js';
import type { DrawnSetup } from './AlongChart.js';
import { answerWords } from './answer-words.js';
import { showSpan } from './figure-text.js';

interface Props {
  readonly setups: readonly DrawnSetup[];
  readonly wayM: number;
  readonly reserveShare: number;
  readonly isRough: boolean;
}

/** The answer in words for each setup, then what it may go wrong by. */
export function AnswerWords({ setups, wayM, reserveShare, isRough }: Props) {
  const system = useUnits();
  return (
    <section aria-label="Answer" aria-live="polite" aria-busy={isRough}>
      {setups.map(({ letter, name, answer }) => (
        <div key={letter} className="forecast-answer">
          <SetupMark letter={letter} label={name} />
          <p className="use-answer">{answerWords(answer, wayM, reserveShare, system).join(' ')}</p>
          {answer.warnings.length > 0 && (
            <ul className="forecast-warnings">
              {answer.warnings.map(({ code, message }) => (
                <li key={code}>{message}</li>
              ))}
            </ul>
          )}
        </div>
      ))}
      <p className="quiet">
        In brackets: where the next such ride comes out, 95 times in 100.
        {isRough && ' Still being worked out; the spans settle in a moment.'}
      </p>
    </section>
  );
}

/** All figures side by side, and what each is unsure by. */
export function FigureRows({ setups }: { readonly setups: readonly DrawnSetup[] }) {
  const system = useUnits();
  const keys = [
    ...new Map(setups.flatMap(({ answer }) => answer.figures.map(({ key, label }) => [key, label]))).entries(),
  ];
  return (
    <div className="scroll-x" tabIndex={0} role="region" aria-label="Figures">
      <table className="rows forecast-figures">
        <thead>
          <tr>
            <th scope="col">Figure</th>
            {setups.map(({ letter }) => (
              <th key={letter} scope="col">
                <SetupMark letter={letter} />
              </th>
            ))}
            {setups.length === 1 && <th scope="col">Unsure by</th>}
          </tr>
        </thead>
        <tbody>
          {keys.map(([key, label]) => (
            <tr key={key}>
              <th scope="row">{label}</th>
              {setups.map(({ letter, answer }) => {
                const figure = answer.figures.find((one) => one.key === key);
                if (!figure)
                  return (
                    <td key={letter} className="quiet">
                      –
                    </td>
                  );
                const shown = showSpan(figure, system);
                return (
                  <td key={letter} className="figures nowrap">
                    {shown.value} {shown.unit}{' '}
                    <span className="quiet">
                      {shown.low} to {shown.high}
                    </span>
                  </td>
                );
              })}
              {setups.length === 1 && <td className="quiet">{unsureBy(setups[0]!, key)}</td>}
            </tr>
          ))}
        </tbody>
      </table>
      {setups.some(({ answer }) => !answer.figures.some(({ key }) => key === 'controllerTemperaturePeak')) && (
        <p className="quiet">
          How warm the controller gets cannot be said{setups.length > 1 ? ' of every setup' : ''}: no ride of it logged
          the controller’s temperature.
        </p>
      )}
    </div>
  );
}

function unsureBy({ answer }: DrawnSetup, key: string): string {
  const { contributions = [] } = answer.figures.find((one) => one.key === key) ?? {};
  return contributions
    .slice(0, 2)
    .map(({ source, share }) => `${source} ${Math.round(100 * share)} %`)
    .join(', ');
}

const SHOWN = [
  ['energyOut', 'Energy'],
  ['time', 'Time'],
  ['motorTemperaturePeak', 'Motor’s warmth'],
] as const;

/** What matters most: of each figure's doubt, whose share is whose. */
export function WhatMatters({ setup: { letter, answer } }: { readonly setup: DrawnSetup }) {
  return (
    <ul className="what-matters">
      {SHOWN.map(([key, name]) => {
        const figure = answer.figures.find((one) => one.key === key);
        if (!figure) return null;
        return (
          <li key={key}>
            <h3>{name}</h3>
            {figure.contributions.slice(0, 5).map(({ source, share }) => (
              <p key={source}>
                <span>{source}</span>
                <span className="share-bar" aria-hidden="true">
                  <span style={{ width: `${Math.min(100, 100 * share)}%`, background: setupColour(letter) }} />
                </span>
                <span className="figures">{Math.round(100 * share)} %</span>
              </p>
            ))}
          </li>
        );
      })}
    </ul>
  );
}
