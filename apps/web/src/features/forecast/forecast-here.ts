import {
  forecast,
  missedChecks,
  type Calibration,
  type Forecast,
  type Scenario,
  type Trust,
} from '@ebrix/core/forecast';

export interface AskedHere {
  readonly number: number;
  readonly setups: readonly { readonly calibration: Calibration; readonly trust: Trust; readonly scenario: Scenario }[];
  readonly samples: number;
}
export interface AnsweredHere {
  readonly number: number;
  readonly samples: number;
  readonly answers: readonly (Forecast | { readonly refusal: string })[];
}

export function answerHere({ number, setups, samples }: AskedHere): AnsweredHere {
  return {
    number,
    samples,
    answers: setups.map(({ calibration, trust, scenario }) => {
      try {
        const answer = forecast(calibration, scenario, { trust, samples });
        return { ...answer, warnings: [...missedChecks(trust), ...answer.warnings] };
      } catch (error) {
        return { refusal: error instanceof Error ? error.message : String(error) };
      }
    }),
  };
}
