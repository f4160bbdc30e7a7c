import { DECIDING_FIGURES, type DecidingFigureKey } from '@ebrix/core/compare';
import { TEST_KIND_NAMES, TEST_KINDS, type TestKind } from '@ebrix/core/analysis';
import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import {
  LETTERS,
  type ComparisonDto,
  type Inspection,
  type KeepLogs,
  type Letter,
  type NotebookAnswer,
  type Setup,
} from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { formatFigure } from '../../shared/format/format-quantity.js';
import { FileDrop } from '../../shared/ui/FileDrop.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { SetupMark } from '../../shared/ui/SetupMark.js';
import { ComparisonDetails, DifferenceStrips, stripsOf } from '../../entities/comparison/index.js';
import { useKeepLogsMutation, useStageFilesMutation } from '../../entities/import/index.js';
import { MOTOR_KINDS } from '../../entities/part/index.js';
import { useListSetupsQuery } from '../../entities/setup/index.js';
import { StoredRides } from '../../entities/trial/index.js';
import { useLookAtLogMutation } from './api.js';
import { commonFigures, compareRides, isMostlyEstimated, type RidesAnswer, type RideOfSide } from './compare-rides.js';

interface SideState {
  readonly name: string;
  readonly files: readonly File[];
  readonly rides: readonly RideOfSide[];
  readonly problems: readonly { readonly fileName: string; readonly error: unknown }[];
}
const NEW_SIDE: SideState = { name: '', files: [], rides: [], problems: [] };
const MOST_SIDES = 6;

type MotorKind = NonNullable<KeepLogs['setups'][number]['sketch']>['motorKind'];

/** Something about the file has to be answered before it can be read. */
const asksFirst = ({ questions, longGaps }: Inspection): boolean =>
  longGaps.length > 0 || questions.some(({ blocking }) => blocking);

const setupNamed = (name: string, setups: readonly Setup[]): Setup | undefined =>
  setups.find((one) => one.archivedAt === null && one.name.toLowerCase() === name.toLowerCase());

/** The setup of that name, in its newest revision, or one of which nothing is known yet. */
function setupOfSide(name: string, motorKind: MotorKind, setups: readonly Setup[]): KeepLogs['setups'][number] {
  const there = setupNamed(name, setups);
  if (there) return { written: name, revisionId: there.revisions[0]!.id, sketch: null };
  return {
    written: name,
    revisionId: null,
    sketch: {
      name,
      motorKind,
      chemistry: 'li-ion-nmc',
      gaugeBars: null,
      packVoltageV: null,
      packCapacityAh: null,
    },
  };
}

/** Logs of two setups or more, each with a name typed here: the answer at once, nothing stored. */
export function CompareLook() {
  const system = useUnits();
  const navigate = useNavigate();
  const [sides, setSides] = useState<readonly SideState[]>([NEW_SIDE, NEW_SIDE]);
  const [test, setTest] = useState<TestKind>('range');
  const [chosen, setChosen] = useState<DecidingFigureKey>();
  const [busy, setBusy] = useState<number>();
  const [look] = useLookAtLogMutation();
  const [stage, staging] = useStageFilesMutation();
  const [keepLogs, keeping] = useKeepLogsMutation();
  const [kept, setKept] = useState<NotebookAnswer>();
  const { data: setups = [] } = useListSetupsQuery();
  /** Of sides that are no setup yet, once they are to be kept. */
  const [motors, setMotors] = useState<Readonly<Record<number, MotorKind>>>({});
  const [isKeeping, setKeeping] = useState(false);
  /** Of rides whose log tells no day: taken for today’s, they would all be one outing. */
  const [days, setDays] = useState<Readonly<Record<number, string>>>({});
  const nameOf = (side: SideState, k: number): string => side.name.trim() || LETTERS[k]!;
  const change = (k: number, more: Partial<SideState>): void =>
    setSides((known) => known.map((side, j) => (j === k ? { ...side, ...more } : side)));

  const read = async (files: readonly File[], kind: TestKind): Promise<Pick<SideState, 'problems' | 'rides'>> => {
    const rides: RideOfSide[] = [];
    const problems: { fileName: string; error: unknown }[] = [];
    for (const file of files) {
      const result = await look({ file, test: kind });
      if ('data' in result && result.data) rides.push({ fileName: file.name, look: result.data });
      else problems.push({ fileName: file.name, error: result.error });
    }
    return { rides, problems };
  };
  const take = async (k: number, files: readonly File[]): Promise<void> => {
    setBusy(k);
    const all = [...sides[k]!.files, ...files];
    change(k, { files: all, ...(await read(all, test)) });
    setBusy(undefined);
  };
  const again = async (kind: TestKind): Promise<void> => {
    setTest(kind);
    setChosen(undefined);
    for (const [k, { files }] of sides.entries()) {
      setBusy(k);
      change(k, await read(files, kind));
    }
    setBusy(undefined);
  };
  const keep = async (): Promise<void> => {
    const staged = await stage(sides.flatMap(({ files }) => files));
    const files = staged.data;
    if (!files) return;
    // What has to be asked, was refused or is known already, is for the import with its questions.
    if (files.some(({ status, inspection }) => status !== 'staged' || inspection === null || asksFirst(inspection)))
      return void navigate('/import');
    const sideOf = sides.flatMap((side, k) => side.files.map(() => k));
    const result = await keepLogs({
      setups: sides.map((side, k) => setupOfSide(nameOf(side, k), motors[k] ?? 'rear-hub-geared', setups)),
      logs: files.map(({ id, inspection }, n) => ({
        importId: id,
        setup: nameOf(sides[sideOf[n]!]!, sideOf[n]!),
        date: inspection!.startedAt?.slice(0, 10) ?? days[sideOf[n]!]!,
        testKind: test,
        mapping: inspection!.format === 'csv' ? inspection!.mapping : null,
      })),
    });
    if (result.data) setKept(result.data);
  };

  const named = sides.map((side, k) => ({ name: nameOf(side, k), rides: side.rides }));
  const isTwice = new Set(named.map(({ name }) => name.toLowerCase())).size < named.length;
  const unknown = named.flatMap(({ name }, k) => (setupNamed(name, setups) ? [] : [k]));
  const undated = sides.flatMap(({ rides }, k) => (rides.some(({ look: own }) => own.startedAt === null) ? [k] : []));
  const lacks = [...unknown.filter((k) => motors[k] === undefined), ...undated.filter((k) => !days[k])];
  const figures = commonFigures(named);
  const figure = chosen !== undefined && figures.includes(chosen) ? chosen : figures[0];
  const isReady = named.every(({ rides }) => rides.length > 0) && busy === undefined;
  const answer = isReady && figure && !isTwice ? compareRides(named, figure, system) : undefined;
  if (kept)
    return (
      <StoredRides
        answer={kept}
        more="Compare other rides"
        onMore={() => {
          setKept(undefined);
          setSides([NEW_SIDE, NEW_SIDE]);
          setKeeping(false);
          setMotors({});
          setDays({});
        }}
      />
    );
  const letters = new Map(named.map(({ name }, k): [string, Letter] => [name, LETTERS[k]!]));
  return (
    <>
      <div className="compare-sides">
        {sides.map((side, k) => (
          // Sides have no other name than their place.
          <section key={LETTERS[k]} aria-label={`Side ${LETTERS[k]}`}>
            <label className="stacked mb-8">
              <SetupMark letter={LETTERS[k]!} label="Name" />
              <Input
                aria-label={`Name of side ${LETTERS[k]}`}
                placeholder={LETTERS[k]}
                maxLength={60}
                value={side.name}
                onChange={({ target }) => change(k, { name: target.value })}
              />
            </label>
            <FileDrop
              label={`Choose logs of ${nameOf(side, k)}`}
              hint="one or more rides: CSV or GPX"
              accept=".csv,.txt,.tsv,.gpx,.gz,.log"
              isMultiple
              isBusy={busy === k}
              onFiles={(files) => void take(k, files)}
            />
            <ul className="list-plain m-0 p-0 mt-8">
              {side.rides.map(({ fileName, look: { startedAt, warnings } }) => (
                <li key={fileName}>
                  {fileName}
                  <span className="quiet">
                    {startedAt && `, ${startedAt.slice(0, 10)}`}
                    {isMostlyEstimated({ warnings }) && ', mostly an estimate: does not count'}
                    {warnings.length > 0 && `, ${warnings.length} ${warnings.length === 1 ? 'warning' : 'warnings'}`}
                  </span>
                </li>
              ))}
            </ul>
            {side.problems.map(({ fileName, error }) => (
              <div key={fileName} className="mt-6">
                <strong>{fileName}</strong>
                <Problem error={error} />
              </div>
            ))}
            {side.files.length > 0 && (
              <Button size="small" onClick={() => change(k, { files: [], rides: [], problems: [] })}>
                Take them away
              </Button>
            )}
          </section>
        ))}
      </div>
      <div className="actions mt-12 mb-16">
        <Select
          aria-label="Test"
          className="min-w-190"
          value={test}
          onChange={(kind: TestKind) => void again(kind)}
          options={TEST_KIND_NAMES.map((value) => ({ value, label: TEST_KINDS[value].label }))}
        />
        {figures.length > 0 && (
          <Select
            aria-label="Figure"
            className="min-w-230"
            value={figure ?? null}
            onChange={setChosen}
            options={figures.map((value) => ({ value, label: DECIDING_FIGURES[value].label }))}
          />
        )}
        {sides.length < MOST_SIDES && <Button onClick={() => setSides([...sides, NEW_SIDE])}>Add another side</Button>}
      </div>
      {isTwice && <p className="caution">Two sides have the same name: give each its own.</p>}
      {isReady && !figure && (
        <p className="caution">
          The logs have no figure in common for this test. Choose another test, or look at each log by itself.
        </p>
      )}
      {answer && figure && (
        <div className="section" aria-live="polite">
          <Answer answer={answer} letters={letters} />
          <h2 className="mt-18 mb-8">Every ride: {DECIDING_FIGURES[figure].label.toLowerCase()}</h2>
          <table className="rows max-w-760" aria-label="Every ride">
            <tbody>
              {named.flatMap(({ name, rides }) =>
                rides.map(({ fileName, look: { figures: own } }) => {
                  const found = own.find(({ key }) => key === figure);
                  return (
                    <tr key={`${name} ${fileName}`}>
                      <td>
                        <SetupMark letter={letters.get(name)!} label={name} />
                      </td>
                      <td className="quiet">{fileName}</td>
                      <td className="number">
                        {found
                          ? formatFigure(found.value, found.standardUncertainty, found.unit, system)
                          : 'does not carry it'}
                      </td>
                    </tr>
                  );
                }),
              )}
            </tbody>
          </table>
          {answer.kind === 'comparison' && <ComparisonDetails comparison={answer.comparison} />}
          <div className="actions mt-16" style={{ alignItems: 'end' }}>
            {isKeeping &&
              unknown.map((k) => (
                <Select
                  key={k}
                  aria-label={`Motor of ${named[k]!.name}`}
                  className="min-w-220"
                  placeholder={`Motor of ${named[k]!.name}?`}
                  value={motors[k] ?? null}
                  onChange={(kind: MotorKind) => setMotors({ ...motors, [k]: kind })}
                  options={[...MOTOR_KINDS]}
                />
              ))}
            {isKeeping &&
              undated.map((k) => (
                <label key={k} className="stacked">
                  Day of the rides of {named[k]!.name}
                  <Input
                    type="date"
                    className="w-190"
                    value={days[k] ?? ''}
                    onChange={({ target }) => setDays({ ...days, [k]: target.value })}
                  />
                </label>
              ))}
            <Button
              loading={staging.isLoading || keeping.isLoading}
              disabled={isKeeping && lacks.length > 0}
              onClick={() => (isKeeping || lacks.length === 0 ? void keep() : setKeeping(true))}
            >
              {isKeeping ? 'Make setups and runs of them' : 'Keep these rides'}
            </Button>
            <span className="quiet">
              Nothing has been stored so far. A side with the name of a setup that is there becomes runs of it; any
              other is sketched, to be filled in later.
            </span>
          </div>
          {staging.error !== undefined && <Problem error={staging.error} />}
          {keeping.error !== undefined && <Problem error={keeping.error} />}
        </div>
      )}
    </>
  );
}

function Answer({ answer, letters }: { readonly answer: RidesAnswer; readonly letters: ReadonlyMap<string, Letter> }) {
  if (answer.kind === 'none') return <p className="verdict-line">Cannot tell. {answer.reason}</p>;
  if (answer.kind === 'impression') return <p className="verdict-line">{answer.impression.sentence}</p>;
  const comparison = answer.comparison as ComparisonDto;
  const strips = stripsOf(comparison, 'percent', undefined, 'metric');
  return (
    <>
      {comparison.sentences.map((sentence, k) => (
        <p key={sentence} className={k === 0 ? 'verdict-line' : 'verdict-line second'}>
          {sentence}
        </p>
      ))}
      <p className="quiet mt-8 mb-12 max-w-860">{comparison.method.reason}</p>
      {strips.length > 0 && (
        <DifferenceStrips strips={strips} letterOf={letters} unit="%" bandText="less than 5 % does not matter" />
      )}
    </>
  );
}
