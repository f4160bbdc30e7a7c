import { LIFE_KINDS, readPasted, type PastedEntry } from '@ebrix/core/life';
import { Button, Input } from 'antd';
import { useMemo, useState } from 'react';
import type { EntryInput } from '@ebrix/contract';
import { emptyDraft, entryOf, entryWords, useSendEntries, type SubjectChoice } from '../../entities/life/index.js';
import { formatDay } from '../../shared/format/format-quantity.js';
import { useUnits } from '../../shared/preferences/index.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { Wide } from '../../shared/ui/Wide.js';

interface Row {
  readonly line: number;
  readonly bike: string;
  readonly entry: EntryInput;
}

/** Many entries at once: rows out of a spreadsheet, looked at before they are stored. */
export function PasteForm({ choices }: { readonly choices: readonly SubjectChoice[] }) {
  const system = useUnits();
  const [text, setText] = useState('');
  const [error, setError] = useState<unknown>();
  const send = useSendEntries();
  const notices = useNotices();
  const { rows, problems } = useMemo(() => readRows(text, choices), [text, choices]);
  const store = async (): Promise<void> => {
    setError(undefined);
    const sent = await send(rows.map(({ entry }) => entry));
    if (sent.how === 'refused') {
      setError(sent.error);
      return;
    }
    notices.success(
      sent.how === 'stored' ? `${rows.length} entries written down.` : `${rows.length} entries wait in this browser.`,
    );
    setText('');
  };
  return (
    <details className="section">
      <summary>Paste many from a spreadsheet</summary>
      <p className="quiet max-w-760">
        The first line names the columns: day, bike, what (odometer, charge, fault, replaced, inspection, note …), km,
        part, words, kWh, reading, cost. Without a bike, all are of {choices[0]?.name}.
      </p>
      <Input.TextArea
        aria-label="Rows out of a spreadsheet"
        value={text}
        autoSize={{ minRows: 3, maxRows: 12 }}
        placeholder={'day\tbike\twhat\tkm\tpart\twords'}
        onChange={({ target }) => setText(target.value)}
      />
      {text.trim() !== '' && (
        <>
          {problems.length > 0 && (
            <div className="problem mt-8" role="alert">
              {problems.slice(0, 12).map(({ line, message }) => (
                <p key={line}>
                  Line {line}: {message}
                </p>
              ))}
              {problems.length > 12 && <p>… and {problems.length - 12} more.</p>}
            </div>
          )}
          {rows.length > 0 && (
            <Wide label="Rows as they were read">
              <table className="rows">
                <thead>
                  <tr>
                    <th scope="col">Day</th>
                    <th scope="col">Bike</th>
                    <th scope="col">What</th>
                    <th scope="col">Says</th>
                  </tr>
                </thead>
                <tbody>
                  {rows.slice(0, 20).map(({ line, bike, entry }) => (
                    <tr key={line}>
                      <td className="figures">{formatDay(entry.day)}</td>
                      <td>{bike}</td>
                      <td>{LIFE_KINDS[entry.details.kind]}</td>
                      <td>{entryWords(entry.details, system)}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
              {rows.length > 20 && <p className="quiet">… and {rows.length - 20} more.</p>}
            </Wide>
          )}
          {error !== undefined && <Problem error={error} />}
          <div className="actions mt-8">
            <Button type="primary" disabled={rows.length === 0 || problems.length > 0} onClick={() => void store()}>
              {problems.length > 0 ? 'Mend the lines above first' : `Write down ${rows.length}`}
            </Button>
          </div>
        </>
      )}
    </details>
  );
}

const MOST_ROWS = 500;
function readRows(
  text: string,
  choices: readonly SubjectChoice[],
): { rows: readonly Row[]; problems: readonly { line: number; message: string }[] } {
  if (text.trim() === '') return { rows: [], problems: [] };
  const pasted = readPasted(text);
  const rows: Row[] = [];
  const problems = [...pasted.problems];
  if (pasted.entries.length > MOST_ROWS)
    problems.push({ line: MOST_ROWS + 2, message: `At most ${MOST_ROWS} at once: paste the rest afterwards.` });
  for (const one of pasted.entries) {
    const choice = one.bike === '' ? choices[0] : bikeOf(one.bike, choices);
    if (!choice) {
      problems.push({ line: one.line, message: `No bike is called “${one.bike}”.` });
      continue;
    }
    const made = entryOf(draftOfRow(one), choice.subject, crypto.randomUUID());
    if ('issues' in made) problems.push({ line: one.line, message: made.issues.join(' ') });
    else rows.push({ line: one.line, bike: choice.name, entry: made.entry });
  }
  return { rows, problems: problems.sort((a, b) => a.line - b.line) };
}

/** The whole name, else its beginning where that is one bike's alone. */
function bikeOf(name: string, choices: readonly SubjectChoice[]): SubjectChoice | undefined {
  const wanted = name.toLowerCase();
  const exact = choices.find((one) => one.name.toLowerCase().replace(/ \((bike|out of sight)\)$/, '') === wanted);
  if (exact) return exact;
  const beginning = choices.filter((one) => one.name.toLowerCase().startsWith(wanted));
  return beginning.length === 1 ? beginning[0] : undefined;
}

function draftOfRow({ day, kind, km, part, words, kWh, value, amount }: PastedEntry) {
  return {
    ...emptyDraft(day, '', kind),
    words,
    kWh,
    value,
    costAmount: amount,
    ...(kind === 'odometer' ? { km } : { odometerKm: km }),
    part: part ?? ('other' as const),
  };
}
