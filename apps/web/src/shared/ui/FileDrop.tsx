import { Button } from 'antd';
import { useRef, useState, type DragEvent } from 'react';

interface Props {
  readonly label: string;
  readonly hint: string;
  readonly accept: string;
  readonly isMultiple?: boolean;
  readonly isBusy?: boolean;
  readonly onFiles: (files: readonly File[]) => void;
}

/** Files by drop, by button or by keyboard. */
export function FileDrop({ label, hint, accept, isMultiple = false, isBusy = false, onFiles }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const [isOver, setOver] = useState(false);
  const take = (list: FileList | null): void => {
    if (list && list.length > 0) onFiles([...list]);
  };
  return (
    <div
      className={isOver ? 'drop over' : 'drop'}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event: DragEvent) => {
        event.preventDefault();
        setOver(false);
        take(event.dataTransfer.files);
      }}
    >
      <Button type="primary" loading={isBusy} onClick={() => input.current?.click()}>
        {label}
      </Button>
      <span className="quiet">{hint}</span>
      <input
        ref={input}
        className="unseen"
        type="file"
        tabIndex={-1}
        aria-label={label}
        accept={accept}
        multiple={isMultiple}
        onChange={({ target }) => {
          take(target.files);
          // The same file can be chosen again.
          target.value = '';
        }}
      />
    </div>
  );
}
