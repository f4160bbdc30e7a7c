import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import type { FittingStep, FittingStepInput } from '@ebrix/contract';
import { Problem } from '../../shared/ui/QueryView.js';
import { useListTemplatesQuery, useSaveTemplateMutation } from './api.js';
import { freshStep } from './steps.js';

interface TemplateProps {
  readonly steps: readonly FittingStep[];
  readonly onTake: (steps: readonly FittingStepInput[]) => void;
}
/** Own lists of steps: kept from one fitting, taken for the next. */
export function Templates({ steps, onTake }: TemplateProps) {
  const { data: templates } = useListTemplatesQuery();
  const [saveTemplate, { error }] = useSaveTemplateMutation();
  const [name, setName] = useState('');
  const isBegun = steps.some((step) => step.isDone || step.elapsedS > 0 || step.runningSince !== null);
  return (
    <>
      <h2 className="mt-18">Your templates</h2>
      {(templates ?? []).length > 0 && (
        <Select
          aria-label="Use a template"
          showSearch={{ optionFilterProp: 'label' }}
          placeholder={isBegun ? 'Only before the first step' : 'Use the steps of …'}
          disabled={isBegun}
          className="w-100-pct mb-8"
          value={null}
          options={(templates ?? []).map((template) => ({ value: template.id, label: template.name }))}
          onChange={(id: string | null) => {
            const chosen = templates?.find((template) => template.id === id);
            if (chosen) onTake(chosen.steps.map(freshStep));
          }}
        />
      )}
      <form
        className="actions"
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim() === '') return;
          const kept = steps.map(({ id, title, detail, tools, caution }) => ({ id, title, detail, tools, caution }));
          const before = templates?.find((one) => one.name.toLowerCase() === name.trim().toLowerCase());
          void saveTemplate({ name: name.trim(), steps: kept, seen: before?.updatedAt ?? null }).then(
            ({ data }) => data && setName(''),
          );
        }}
      >
        <Input
          aria-label="Name of the template"
          placeholder="Name"
          className="w-130"
          value={name}
          onChange={({ target }) => setName(target.value)}
        />
        <Button htmlType="submit">Save these steps</Button>
      </form>
      {error !== undefined && <Problem error={error} />}
    </>
  );
}
