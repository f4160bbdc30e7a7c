import { Button } from 'antd';
import { useRef } from 'react';

interface Props {
  /** On the button. */
  readonly label: string;
  /** What the file is, for who does not see the button. */
  readonly name: string;
  readonly accept: string;
  readonly isLoading: boolean;
  readonly onFile: (file: File) => void;
}
/** A button that asks for one file; the same file may be chosen again after it was mended. */
export function FilePicker({ label, name, accept, isLoading, onFile }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button loading={isLoading} onClick={() => input.current?.click()}>
        {label}
      </Button>
      <input
        ref={input}
        className="unseen"
        type="file"
        tabIndex={-1}
        accept={accept}
        aria-label={name}
        onChange={({ target }) => {
          const file = target.files?.[0];
          if (file) onFile(file);
          target.value = '';
        }}
      />
    </>
  );
}
