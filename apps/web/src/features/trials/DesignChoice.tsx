import { Select } from 'antd';
import { pairSentences } from '@ebrix/core/compare';
import type { ComparisonDto, Trial } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { toTrialInput, useSaveTrialMutation } from '../../entities/trial/index.js';
import { voiceOf } from './verdict-voice.js';

const DESIGN_LABELS = {
  blocked: 'Within outings',
  mixed: 'Mixed model, outing random',
  nested: 'By outings',
  independent: 'Each run alone (Welch)',
} as const;

/** The analysis follows the runs; a person may take another, and then sees both answers. */
export function DesignChoice({ trial, comparison }: { readonly trial: Trial; readonly comparison: ComparisonDto }) {
  const [save, { isLoading }] = useSaveTrialMutation();
  const system = useUnits();
  const { called } = comparison;
  return (
    <details className="mt-6" open={called !== undefined}>
      <summary className="quiet">Analysis: {comparison.method.name}</summary>
      <Select
        aria-label="Analysis"
        showSearch={{ optionFilterProp: 'label' }}
        className="min-w-270 mt-6"
        loading={isLoading}
        value={trial.design ?? 'auto'}
        options={[
          { value: 'auto', label: 'As the runs call for' },
          ...Object.entries(DESIGN_LABELS).map(([value, label]) => ({ value, label })),
        ]}
        onChange={(value: string) =>
          void save({
            input: { ...toTrialInput(trial), design: value === 'auto' ? null : (value as Trial['design']) },
            stored: trial,
          })
        }
      />
      {called && (
        <div className="mt-8 max-w-860">
          <p>The runs call for another analysis ({called.method.name.toLowerCase()}), and by it:</p>
          {pairSentences(called.pairs, voiceOf(trial, system)).map((sentence) => (
            <p key={sentence} className="verdict-line second">
              {sentence}
            </p>
          ))}
          <p className="quiet">{called.method.reason}</p>
        </div>
      )}
    </details>
  );
}
