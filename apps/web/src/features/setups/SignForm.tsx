import { Button, Input } from 'antd';
import { useState } from 'react';
import type { MarkInput } from '@ebrix/contract';
import { Problem } from '../../shared/ui/QueryView.js';
import { rememberedName, rememberName } from '../../shared/ui/remembered-name.js';

interface Props {
  readonly ids: readonly string[];
  readonly kind: MarkInput['kind'];
  readonly label: string;
  readonly isBusy: boolean;
  readonly error: unknown;
  readonly onSign: (input: MarkInput) => void;
  readonly onCancel: () => void;
}

/** Signs for checks: who, and for a waiver why. */
export function SignForm({ ids, kind, label, isBusy, error, onSign, onCancel }: Props) {
  const [by, setBy] = useState(rememberedName);
  const [reason, setReason] = useState('');
  const [problem, setProblem] = useState('');
  const submit = (): void => {
    if (by.trim().length < 2) return setProblem('Write your name.');
    if (kind === 'waived' && reason.trim().length < 5) return setProblem('Write the reason in a few words.');
    setProblem('');
    rememberName(by.trim());
    onSign({ ids: [...ids], kind, by: by.trim(), reason: reason.trim() });
  };
  return (
    <form
      className="sign"
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      {kind === 'waived' && (
        <Input.TextArea
          aria-label="Reason for waiving"
          placeholder="Reason for waiving"
          autoFocus
          rows={2}
          value={reason}
          maxLength={400}
          onChange={({ target }) => setReason(target.value)}
        />
      )}
      <Input
        aria-label="Your name"
        placeholder="Your name"
        autoFocus={kind === 'passed' && by === ''}
        value={by}
        maxLength={80}
        className="max-w-220"
        onChange={({ target }) => setBy(target.value)}
      />
      <Button type="primary" htmlType="submit" loading={isBusy} autoFocus={kind === 'passed' && by !== ''}>
        {label}
      </Button>
      <Button onClick={onCancel}>Cancel</Button>
      {problem && (
        <span role="alert" style={{ color: 'var(--stop)' }}>
          {problem}
        </span>
      )}
      {error !== undefined && <Problem error={error} />}
    </form>
  );
}
