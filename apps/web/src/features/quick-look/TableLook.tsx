import { Button, Input, Radio, Select } from 'antd';
import { useState } from 'react';
import { LETTERS, type Letter, type QuickLookTable } from '@ebrix/contract';
import { Problem } from '../../shared/ui/QueryView.js';
import { FileDrop } from '../../shared/ui/FileDrop.js';
import { plain } from '../../shared/format/format-quantity.js';
import {
  ComparisonDetails,
  DifferenceStrips,
  RunPoints,
  stripsOf,
  type PointGroup,
} from '../../entities/comparison/index.js';
import { useLookAtTableMutation, useTableColumnsMutation } from './api.js';

interface Choice {
  readonly setup?: string;
  readonly value?: string;
  readonly block?: string;
  readonly covariate?: string;
  readonly group?: string;
}

const OUTING_LABELS = /^(outing|day|date|block|morning|tag|datum)$/i;

/** Where to begin: names stand first and results last in most tables; the person sees and changes it. */
export function guessColumns(columns: readonly string[]): Choice {
  const [setup] = columns;
  const value = columns.at(-1);
  const block = columns.find((name) => OUTING_LABELS.test(name.trim()) && name !== setup && name !== value);
  return {
    ...(setup !== undefined && { setup }),
    ...(value !== undefined && { value }),
    ...(block !== undefined && { block }),
  };
}

/** A table with one row per run: which column names the setup, which holds the result. */
export function TableLook() {
  const [file, setFile] = useState<File>();
  const [choice, setChoice] = useState<Choice>({});
  const [smallestDifference, setSmallestDifference] = useState('5 %');
  const [better, setBetter] = useState('less');
  const [readColumns, columns] = useTableColumnsMutation();
  const [look, looked] = useLookAtTableMutation();
  const names = (columns.data?.columns ?? []).map((name) => ({ value: name, label: name }));
  const take = async (chosen: File): Promise<void> => {
    setFile(chosen);
    looked.reset();
    const result = await readColumns(chosen);
    if (!('data' in result) || !result.data) return;
    setChoice(guessColumns(result.data.columns));
  };
  const { setup, value } = choice;
  const select = (name: keyof Choice, label: string, isOptional: boolean) => (
    <label className="stacked">
      {label}
      <Select
        aria-label={label}
        className="min-w-170"
        value={choice[name] ?? null}
        options={names}
        allowClear={isOptional}
        placeholder={isOptional ? 'none' : 'choose'}
        onChange={(chosen: string | null) => setChoice((known) => ({ ...known, [name]: chosen ?? undefined }))}
      />
    </label>
  );
  return (
    <>
      <FileDrop
        label="Choose a table"
        hint="or drop it here: a CSV with one row per run, for example setup and Wh per km"
        accept=".csv,.txt,.tsv,.gz"
        isBusy={columns.isLoading}
        onFiles={([first]) => first && void take(first)}
      />
      {columns.error !== undefined && <Problem error={columns.error} />}
      {file && columns.data && (
        <form
          className="actions section"
          style={{ alignItems: 'flex-end' }}
          onSubmit={(event) => {
            event.preventDefault();
            if (setup && value) void look({ file, ...choice, setup, value, smallestDifference, better });
          }}
        >
          {select('setup', 'Column with the setup', false)}
          {select('value', 'Column with the result', false)}
          {select('block', 'Outing', true)}
          {select('covariate', 'Condition to adjust for', true)}
          {select('group', 'Rider, day or bike, if of many', true)}
          <label className="stacked">
            Smallest difference that matters
            <Input
              className="w-210"
              value={smallestDifference}
              onChange={({ target }) => setSmallestDifference(target.value)}
            />
          </label>
          <Radio.Group
            aria-label="Which is better"
            optionType="button"
            value={better}
            onChange={({ target }) => setBetter(String(target.value))}
            options={[
              { value: 'less', label: 'less is better' },
              { value: 'more', label: 'more is better' },
            ]}
          />
          <Button type="primary" htmlType="submit" loading={looked.isLoading} disabled={!setup || !value}>
            Compare
          </Button>
        </form>
      )}
      {looked.error !== undefined && <Problem error={looked.error} />}
      {looked.data && looked.error === undefined && <Result look={looked.data} axis={value ?? ''} />}
    </>
  );
}

function Result({ look, axis }: { readonly look: QuickLookTable; readonly axis: string }) {
  const { comparison, points, skippedRows, designed } = look;
  const letters = new Map<string, Letter>(
    comparison.setups.flatMap(({ name }, k): [string, Letter][] => (LETTERS[k] ? [[name, LETTERS[k]]] : [])),
  );
  const percent = stripsOf(comparison, 'percent', undefined, 'metric');
  const strips = percent.length > 0 ? percent : stripsOf(comparison, 'unit', undefined, 'metric');
  const { kind, value } = comparison.smallestDifference;
  const groups = comparison.setups.map((described): PointGroup => {
    const { name, n, mean, intervalOfMean } = described as {
      name: string;
      n: number;
      mean: number;
      intervalOfMean?: { lower: number; upper: number };
    };
    return {
      name,
      letter: letters.get(name),
      note: `${n} runs`,
      mean,
      ...(intervalOfMean && { interval: [intervalOfMean.lower, intervalOfMean.upper] as const }),
      points: points
        .filter(({ setup }) => setup === name)
        .map((point) => ({ value: point.value, text: `${name}, row ${point.row}: ${point.value}`, isExcluded: false })),
    };
  });
  return (
    <div className="section" aria-live="polite">
      {comparison.sentences.map((sentence, k) => (
        <p key={sentence} className={k === 0 ? 'verdict-line' : 'verdict-line second'}>
          {sentence}
        </p>
      ))}
      <p className="quiet mt-8 mb-18 mx-0 max-w-860">
        {comparison.method.reason} {designed.notes.join(' ')}
      </p>
      {skippedRows.length > 0 && (
        <p className="caution mb-14">
          {skippedRows.length} {skippedRows.length === 1 ? 'row was' : 'rows were'} skipped:{' '}
          {skippedRows
            .slice(0, 5)
            .map(({ row, reason }) => `row ${row}, ${reason}`)
            .join('; ')}
          {skippedRows.length > 5 && ' …'}
        </p>
      )}
      <h2 className="mb-8">Difference, with its 95 % interval</h2>
      {strips.length > 0 ? (
        <DifferenceStrips
          strips={strips}
          letterOf={letters}
          unit={percent.length > 0 ? '%' : ''}
          bandText={`less than ${kind === 'relative' ? `${plain(value * 100, 3)} %` : plain(value, 3)} does not matter`}
        />
      ) : (
        <p className="quiet">No difference is shown where the setups cannot be told apart.</p>
      )}
      <h2 className="mt-22 mb-8 mx-0">Every run</h2>
      <RunPoints groups={groups} axis={axis} />
      {designed.blocked && <Adjusted title="Within outings (setup + outing, Tukey)" adjusted={designed.blocked} />}
      {designed.ancova && (
        <Adjusted
          title={`Adjusted to ${plain(designed.ancova.covariateMean)} of the condition`}
          adjusted={designed.ancova}
        />
      )}
      <ComparisonDetails comparison={comparison} />
    </div>
  );
}

function Adjusted({
  title,
  adjusted,
}: {
  readonly title: string;
  readonly adjusted: NonNullable<QuickLookTable['designed']['blocked']>;
}) {
  return (
    <table className="rows mt-16 mb-16 mx-0 max-w-720">
      <caption className="align-left weight-650">{title}</caption>
      <thead>
        <tr>
          <th scope="col">Pair</th>
          <th scope="col" className="number">
            Difference
          </th>
          <th scope="col" className="number">
            95 % interval
          </th>
        </tr>
      </thead>
      <tbody>
        {adjusted.contrasts.map(({ a, b, difference, lower, upper }) => (
          <tr key={a + b}>
            <td>
              {a} − {b}
            </td>
            <td className="number">{plain(difference)}</td>
            <td className="number">
              {plain(lower)} … {plain(upper)}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
