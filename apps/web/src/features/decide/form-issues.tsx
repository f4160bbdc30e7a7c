import type { z } from 'zod';

type Issue = z.core.$ZodIssue;

/** What is wrong with a list of lines, each with its place: a field that is not on the form must not hide it. */
export function IssueList({ issues }: { readonly issues: readonly Issue[] }) {
  if (issues.length === 0) return null;
  const texts = [...new Set(issues.map(issueText))];
  return (
    <ul className="problem" role="alert">
      {texts.map((text) => (
        <li key={text}>{text}</li>
      ))}
    </ul>
  );
}

export function issueText({ path, message }: Pick<Issue, 'message' | 'path'>): string {
  const list = path.find((part) => typeof part === 'string');
  // The ends of a span are numbered too, below a name.
  const at = typeof path[0] === 'number' ? path[0] : list !== undefined && LISTS.has(list) ? path[1] : undefined;
  return `${WORDS[list ?? ''] ?? ''}${typeof at === 'number' ? `Line ${at + 1}: ` : ''}${message}`;
}
const LISTS: ReadonlySet<string> = new Set(['wear', 'alternatives', 'rates']);
/** Lists by the names that stand over them. */
const WORDS: Readonly<Record<string, string>> = {
  wear: 'Parts that wear. ',
  alternatives: 'What else the money buys. ',
  rates: 'Other currencies. ',
  home: 'Home currency. ',
  electricityPerKWh: 'Electricity. ',
  packCycles: 'Full cycles a pack lasts. ',
};
