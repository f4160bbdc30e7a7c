import { Button } from 'antd';
import { valueText } from '@ebrix/core/compare';
import type { Trial, Verdict } from '@ebrix/contract';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { toRiding } from '../../entities/run/index.js';
import { toTrialInput, useSaveTrialMutation } from '../../entities/trial/index.js';

/** Runs of one setup that were not ridden alike are not averaged in silence: which of them count is asked. */
export function OpenQuestion({ trial, open }: { readonly trial: Trial; readonly open: NonNullable<Verdict['open']> }) {
  const [save, { isLoading }] = useSaveTrialMutation();
  return (
    <>
      <p className="verdict-line">{open.text}</p>
      <div className="actions mt-14 mb-14 mx-0">
        {open.found.map(({ value, runs }) => (
          <Button
            key={value}
            loading={isLoading}
            onClick={() => {
              const input = toTrialInput(trial);
              const heldRiding = toRiding({ ...input.heldRiding, [open.field]: value });
              void save({ input: { ...input, heldRiding }, stored: trial });
            }}
          >
            Count {valueText(open.field, value)} ({runs})
          </Button>
        ))}
        <LinkButton to={`/trials/${trial.id}/setups`} label="Compare them as setups of their own" />
      </div>
    </>
  );
}
