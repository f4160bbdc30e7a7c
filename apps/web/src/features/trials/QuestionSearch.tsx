import { Input } from 'antd';

export default function QuestionSearch({
  text,
  onText,
}: {
  readonly text: string;
  readonly onText: (text: string) => void;
}) {
  return (
    <Input
      allowClear
      className="mb-12"
      style={{ maxWidth: 420 }}
      aria-label="Search the questions"
      placeholder="Search the questions"
      value={text}
      onChange={({ target }) => onText(target.value)}
    />
  );
}
