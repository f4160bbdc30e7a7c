import { NOTEBOOK_COLUMNS, readNotebookTable, splitPasted, type NotebookKey } from '@ebrix/core/notebook';
import { Button, Input, InputNumber, Select } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import type { NotebookAnswer } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { FilePicker } from '../../shared/ui/FilePicker.js';
import { Page } from '../../shared/ui/Page.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { readDraft } from '../../shared/ui/stored-draft.js';
import { useListCoursesQuery } from '../../entities/course/index.js';
import { useStoreNotebookMutation } from '../../entities/import/index.js';
import { useListPartsQuery } from '../../entities/part/index.js';
import { useListSetupsQuery } from '../../entities/setup/index.js';
import { NotebookGrid } from './NotebookGrid.js';
import { NotebookSetups } from './NotebookSetups.js';
import {
  gaugeSteps,
  isBlank,
  knownRevision,
  newSetup,
  nextRow,
  readRows,
  setupKey,
  setupNames,
  toInput,
  type Row,
  type SetupChoice,
} from './notebook-state.js';
import { readTableFile } from './read-file.js';
import { StoredRides } from '../../entities/trial/index.js';

const DRAFT = 'draft.notebook';
const USUAL = NOTEBOOK_COLUMNS.filter((column) => 'isUsual' in column).map(({ key }): NotebookKey => key);
const EMPTY_ROWS = 4;
const MOST_ROWS = 300;

/** Rides as they stand on paper: typed in, pasted or out of a file, for any day, without console or logger. */
export default function NotebookPage() {
  const isImperial = useUnits() === 'imperial';
  const { data: setups = [] } = useListSetupsQuery();
  const [rows, setRows] = useState<readonly Row[]>(() => readDraft(sessionStorage, DRAFT, rowsOf) ?? emptyRows());
  const [more, setMore] = useState<readonly NotebookKey[]>([]);
  const { data: packs = [] } = useListPartsQuery('packs');
  const { data: courses = [] } = useListCoursesQuery();
  const [barsWhenFull, setBars] = useState<number | null>(null);
  const [choices, setChoices] = useState<Readonly<Record<string, SetupChoice>>>({});
  const [unknown, setUnknown] = useState<readonly string[]>([]);
  const [fileProblem, setFileProblem] = useState('');
  const [isAsked, setAsked] = useState(false);
  const [pageIsImperial, setPageImperial] = useState<boolean>();
  const [stored, setStored] = useState<NotebookAnswer>();
  const [store, { isLoading, error }] = useStoreNotebookMutation();

  const names = setupNames(rows);
  const choiceOf = (name: string): SetupChoice =>
    choices[setupKey(name)] ?? { ...newSetup(name), revisionId: knownRevision(name, setups) ?? '' };
  /** As said for the setup, as its pack's own gauge has, or as said for the page. */
  const barsOf = (name: string): number | undefined => {
    const { bars, revisionId } = choiceOf(name);
    return bars ?? gaugeSteps(revisionId, setups, packs) ?? barsWhenFull ?? undefined;
  };
  const inMiles = pageIsImperial ?? isImperial;
  const lengthKmOf = (name: string): number | undefined => {
    const lengthM = courses.find((course) => setupKey(course.name) === setupKey(name))?.lengthM;
    return lengthM == null ? undefined : lengthM / 1000;
  };
  const read = readRows(rows, (name) => {
    const bars = barsOf(name);
    return { isImperial: inMiles, today: today(), lengthKmOf, ...(bars !== undefined && { barsWhenFull: bars }) };
  });
  const used = NOTEBOOK_COLUMNS.map(({ key }): NotebookKey => key).filter((key) => rows.some((row) => row[key]));
  const columns = NOTEBOOK_COLUMNS.filter(({ key }) => USUAL.includes(key) || used.includes(key) || more.includes(key));
  const problems = read.flatMap(({ row, problems: own }) => own.map((one) => ({ ...one, row })));

  const change = (next: readonly Row[]): void => {
    setRows(next);
    sessionStorage.setItem(DRAFT, JSON.stringify(next));
  };
  const take = (table: readonly (readonly string[])[]): void => {
    const found = readNotebookTable(table);
    if (found.rows.length > MOST_ROWS) {
      setFileProblem(
        `${found.rows.length} rows are more than a notebook holds (${MOST_ROWS} at once). A log with a row a second goes into the import.`,
      );
      return;
    }
    setFileProblem('');
    setUnknown(found.unknown);
    if (found.isImperial) setPageImperial(true);
    if (found.rows.length > 0) change([...rows.filter((row) => !isBlank(row)), ...found.rows]);
  };
  const submit = async (): Promise<void> => {
    setAsked(true);
    if (problems.length > 0 || read.length === 0) return;
    const made = toInput(read, new Map(names.map((name) => [setupKey(name), choiceOf(name)])), barsOf);
    if ('missing' in made) return;
    const result = await store(made.input);
    if (!('data' in result) || !result.data) return;
    sessionStorage.removeItem(DRAFT);
    setStored(result.data);
  };
  if (stored)
    return (
      <Page title="From my notebook" crumb={<Link to="/runs">Runs</Link>}>
        <StoredRides
          more="Another page of the notebook"
          answer={stored}
          onMore={() => {
            setStored(undefined);
            setRows(emptyRows());
            setAsked(false);
          }}
        />
      </Page>
    );
  return (
    <Page title="From my notebook" crumb={<Link to="/runs">Runs</Link>}>
      <p className="max-w-760 mb-12">
        One row for each ride, as it stands on paper: what the display, the gauge, a voltmeter or a watch showed. Leave
        blank what was not read. Figures get the doubt that such readings have.
      </p>
      <div className="notebook-paste">
        <label className="stacked">
          Paste rows from a spreadsheet, headings too if you have them
          <Input.TextArea
            aria-label="Paste rows from a spreadsheet"
            rows={2}
            value=""
            placeholder="Day, setup, distance, bars, volts, time …"
            onChange={({ target }) => take(splitPasted(target.value))}
          />
        </label>
        <FilePicker
          label="Or open a file"
          name="A spreadsheet or text file with rides"
          isLoading={false}
          accept=".xlsx,.ods,.csv,.tsv,.txt"
          onFile={(file) => {
            setFileProblem('');
            readTableFile(file)
              .then(take)
              .catch((reason: unknown) =>
                setFileProblem(
                  `${file.name} could not be read: ${reason instanceof Error ? reason.message : 'it breaks off'}. Save it again as .xlsx, .ods or .csv.`,
                ),
              );
          }}
        />
        <label className="stacked">
          Bars when full
          <InputNumber
            aria-label="Bars when full"
            placeholder="of the gauge"
            min={1}
            max={100}
            value={barsWhenFull}
            onChange={setBars}
          />
        </label>
        <label className="stacked">
          More columns
          <Select<NotebookKey[]>
            aria-label="More columns"
            mode="multiple"
            className="w-300"
            placeholder="socket, level, pulse, notes …"
            value={[...more]}
            options={NOTEBOOK_COLUMNS.filter(({ key }) => !USUAL.includes(key)).map(({ key, label }) => ({
              value: key,
              label,
            }))}
            onChange={setMore}
          />
        </label>
      </div>
      {fileProblem && <p className="problem">{fileProblem}</p>}
      {unknown.length > 0 && (
        <p className="caution">Left aside, since these headings mean nothing here: {unknown.join(', ')}.</p>
      )}
      <NotebookGrid
        columns={columns}
        rows={rows}
        problems={isAsked ? problems : []}
        isImperial={inMiles}
        onChange={change}
        onPaste={take}
      />
      <div className="actions mt-8 mb-16">
        <Button size="small" onClick={() => change([...rows, nextRow(rows.at(-1), today())])}>
          Add a row
        </Button>
      </div>
      {isAsked && problems.length > 0 && (
        <div className="problem mb-16" role="alert">
          {problems.length === 1 ? 'One cell needs' : `${problems.length} cells need`} a look:
          <ul className="mt-6 mb-6 mx-0 pl-18">
            {problems.slice(0, 8).map(({ row, key, message }) => (
              <li key={`${row} ${key}`}>
                Row {row + 1}, {NOTEBOOK_COLUMNS.find((one) => one.key === key)!.label}: {message}
              </li>
            ))}
          </ul>
        </div>
      )}
      {names.length > 0 && (
        <NotebookSetups
          names={names}
          setups={setups}
          choiceOf={choiceOf}
          barsOf={barsOf}
          isAsked={isAsked}
          onChoose={(name, choice) => setChoices((known) => ({ ...known, [setupKey(name)]: choice }))}
        />
      )}
      {error !== undefined && <Problem error={error} />}
      <div className="actions mt-16">
        <Button type="primary" loading={isLoading} onClick={() => void submit()}>
          {read.length === 0 ? 'Store the rides' : `Store ${read.length} ${read.length === 1 ? 'ride' : 'rides'}`}
        </Button>
        {isAsked && read.length === 0 && <span className="quiet">No row holds a reading yet.</span>}
      </div>
    </Page>
  );
}

function today(): string {
  const now = new Date();
  const two = (value: number): string => String(value).padStart(2, '0');
  return `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`;
}
function emptyRows(): Row[] {
  return Array.from({ length: EMPTY_ROWS }, () => ({ date: today() }));
}
function rowsOf(value: unknown): Row[] | undefined {
  const isRow = (row: unknown): row is Row =>
    typeof row === 'object' && row !== null && Object.values(row).every((cell) => typeof cell === 'string');
  return Array.isArray(value) && value.length > 0 && value.every(isRow) ? value : undefined;
}
