import { Input } from 'antd';
import { useState } from 'react';
import { rememberedName, rememberName } from '../../shared/ui/remembered-name.js';

export interface ClearanceWaiver {
  readonly by: string;
  readonly reason: string;
}
interface Props {
  readonly value: ClearanceWaiver | null;
  /** Null while name or reason are missing. */
  readonly onChange: (waiver: ClearanceWaiver | null) => void;
}

/** Why a setup was ridden with safety checks to do; it waives none of them. */
export function ClearanceWaiverFields({ value, onChange }: Props) {
  const [by, setBy] = useState(() => value?.by ?? rememberedName());
  const [reason, setReason] = useState(value?.reason ?? '');
  const change = (nextBy: string, nextReason: string): void => {
    setBy(nextBy);
    setReason(nextReason);
    const isWhole = nextBy.trim().length >= 2 && nextReason.trim().length >= 5;
    if (isWhole) rememberName(nextBy.trim());
    onChange(isWhole ? { by: nextBy.trim(), reason: nextReason.trim() } : null);
  };
  return (
    <div className="actions basis-full">
      <Input
        aria-label="Why it was ridden before its safety checks"
        placeholder="Why it was ridden before its safety checks"
        className="max-w-420"
        maxLength={400}
        value={reason}
        onChange={({ target }) => change(by, target.value)}
      />
      <Input
        aria-label="Your name"
        placeholder="Your name"
        className="max-w-200"
        maxLength={80}
        value={by}
        onChange={({ target }) => change(target.value, reason)}
      />
      <span className="quiet self-center">
        Kept with the setup, for this ride and those before it: the checks stay to be done before the next.
      </span>
    </div>
  );
}
