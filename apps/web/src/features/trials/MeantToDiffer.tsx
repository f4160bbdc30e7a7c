import { Button } from 'antd';
import type { Trial, Verdict } from '@ebrix/contract';
import { toTrialInput, useSaveTrialMutation } from '../../entities/trial/index.js';
import { FACTOR_WORDS } from './meant-to-differ.js';

/** What keeps setups apart may be what is compared: said once, it keeps nothing apart any more. */
export function MeantToDiffer({
  trial,
  confounded,
}: {
  readonly trial: Trial;
  readonly confounded: Verdict['confounded'];
}) {
  const [save, { isLoading }] = useSaveTrialMutation();
  const keys = [...new Set(confounded.map(({ key }) => key))];
  return (
    <>
      {keys.map((key) => (
        <p key={key} className="mt-6">
          <Button
            size="small"
            loading={isLoading}
            onClick={() => {
              const input = toTrialInput(trial);
              void save({ input: { ...input, meantToDiffer: [...input.meantToDiffer, key] }, stored: trial });
            }}
          >
            The {FACTOR_WORDS[key]} is meant to differ
          </Button>
        </p>
      ))}
    </>
  );
}
