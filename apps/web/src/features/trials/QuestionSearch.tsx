import { Input } from 'antd';
import { LibraryTheme } from '../../shared/ui/LibraryTheme.js';

export default function QuestionSearch({
  text,
  onText,
}: {
  readonly text: string;
  readonly onText: (text: string) => void;
}) {
  return (
    <LibraryTheme>
      <Input
        allowClear
        className="mb-12"
        style={{ maxWidth: 420 }}
        aria-label="Search the questions"
        placeholder="Search the questions"
        value={text}
        onChange={({ target }) => onText(target.value)}
      />
    </LibraryTheme>
  );
}
