import { Button, Input } from 'antd';
import { useState } from 'react';

const USUAL = {
  aborted: ['Too hot', 'Traffic', 'Rain', 'Brake trouble', 'Rider tired', 'Something loose'],
  repeated: ['Wrong level', 'Stopped on the way', 'Pack was not full', 'Wind turned', 'Logger failed'],
} as const;

/** Why a run does not count: a tap on a usual reason, or own words. */
export function ReasonSheet({
  to,
  onGiven,
  onCancel,
}: {
  readonly to: 'aborted' | 'repeated';
  readonly onGiven: (reason: string) => void;
  readonly onCancel: () => void;
}) {
  const [text, setText] = useState('');
  return (
    <section className="console-body" aria-label={to === 'aborted' ? 'Why it was aborted' : 'Why it is repeated'}>
      <h2>{to === 'aborted' ? 'Why was it aborted?' : 'Why is it repeated?'}</h2>
      <div className="console-choices">
        {USUAL[to].map((reason) => (
          <Button key={reason} size="large" onClick={() => setText(reason)}>
            {reason}
          </Button>
        ))}
      </div>
      <Input.TextArea
        autoFocus
        aria-label="Reason"
        rows={2}
        value={text}
        onChange={({ target }) => setText(target.value)}
        placeholder="In a few words"
      />
      {text.trim().length < 2 && <p className="quiet">Choose a reason, or write one.</p>}
      <div className="console-foot">
        <Button size="large" onClick={onCancel}>
          Back
        </Button>
        <Button
          size="large"
          danger
          type="primary"
          disabled={text.trim().length < 2}
          onClick={() => onGiven(text.trim())}
        >
          {to === 'aborted' ? 'Abort the run' : 'Repeat it later'}
        </Button>
      </div>
    </section>
  );
}
