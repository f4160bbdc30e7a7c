import { Button, Input, Popover } from 'antd';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { Calibration, Trust } from '@ebrix/core/forecast';
import { LETTERS, type Course, type Setup } from '@ebrix/contract';
import { useListCoursesQuery } from '../../entities/course/index.js';
import { useListSetupsQuery } from '../../entities/setup/index.js';
import { CourseRuns } from '../../entities/run/index.js';
import { Page } from '../../shared/ui/Page.js';
import { Loading, Problem, QueryView } from '../../shared/ui/QueryView.js';
import { SetupMark } from '../../shared/ui/SetupMark.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { AlongChart, type DrawnSetup } from './AlongChart.js';
import { AnswerWords, FigureRows, WhatMatters } from './AnswerPart.js';
import { useGetCalibrationQuery, useKeepForecastMutation } from './api.js';
import type { AskedHere } from './forecast-here.js';
import { KeptPart } from './KeptPart.js';
import { readQuestion, writeQuestion, type Question } from './question.js';
import { QuestionForm } from './QuestionForm.js';
import { scenarioOf, wayOf, type Way } from './to-scenario.js';
import { ThumbPart } from './ThumbPart.js';
import { TrustPart } from './TrustPart.js';
import { useForecast } from './use-forecast.js';

/** What was not ridden, from what was: setup, way and conditions on the left, the answer on the right. */
export default function ForecastPage() {
  const setups = useListSetupsQuery();
  const courses = useListCoursesQuery();
  return (
    <Page title="Forecast">
      <QueryView query={setups}>
        {(all) => <QueryView query={courses}>{(ways) => <Asked setups={all} courses={ways} />}</QueryView>}
      </QueryView>
    </Page>
  );
}

function Asked({ setups: all, courses }: { readonly setups: readonly Setup[]; readonly courses: readonly Course[] }) {
  const [params, setParams] = useSearchParams();
  const [dropped, setDropped] = useState<Way>();
  const setups = all.filter(
    ({ archivedAt, revisions }) => archivedAt === null && revisions[0] !== undefined && revisions[0].kit !== null,
  );
  // A slider moves faster than an address changes: what is on its way there is held here until it has arrived.
  const onItsWay = useRef<Question>(undefined);
  const [, redraw] = useState(0);
  const inAddress = params.toString();
  useEffect(() => {
    if (onItsWay.current && writeQuestion(onItsWay.current).toString() === inAddress) onItsWay.current = undefined;
  }, [inAddress]);
  const asked = onItsWay.current ?? readQuestion(params);
  const known = asked.setups.filter((id) => setups.some((setup) => setup.id === id));
  const byRuns = [...setups].sort((a, b) => runsOf(b) - runsOf(a));
  const question: Question = {
    ...asked,
    setups: known.length > 0 ? known : byRuns.slice(0, 1).map(({ id }) => id),
    course:
      asked.course ||
      (courses.find(({ lengthM, archivedAt }) => lengthM !== null && archivedAt === null)?.id ?? 'slope'),
  };
  const change = (by: Partial<Question>): void => {
    onItsWay.current = { ...(onItsWay.current ?? question), ...by };
    redraw((n) => n + 1);
    setParams(writeQuestion(onItsWay.current), { replace: true });
  };
  if (setups.length === 0)
    return (
      <div className="teach">
        <p>A forecast is for a bike with a kit. Put one together first; its rides then teach the forecast.</p>
        <Link to="/bench/setups/new">Put a setup together</Link>
      </div>
    );
  return (
    <Calibrated
      question={question}
      setups={setups}
      courses={courses}
      dropped={dropped}
      onDropped={setDropped}
      onChange={change}
    />
  );
}

function runsOf({ revisions }: Setup): number {
  return revisions.reduce((sum, { runCount }) => sum + runCount, 0);
}

interface Props {
  readonly question: Question;
  readonly setups: readonly Setup[];
  readonly courses: readonly Course[];
  readonly dropped: Way | undefined;
  readonly onDropped: (way: Way) => void;
  readonly onChange: (change: Partial<Question>) => void;
}
function Calibrated({ question, setups, courses, dropped, onDropped, onChange }: Props) {
  const [a, b, c] = question.setups;
  // Hooks of a fixed number: three at most are asked about at once.
  const queries = [
    useGetCalibrationQuery(a ?? '', { skip: a === undefined }),
    useGetCalibrationQuery(b ?? '', { skip: b === undefined }),
    useGetCalibrationQuery(c ?? '', { skip: c === undefined }),
  ].slice(0, question.setups.length);
  const calibrations = queries.map(({ currentData }) => currentData);
  const way = wayOf(question, courses, dropped);
  const isReady = calibrations.every((one) => one !== undefined);
  const key = JSON.stringify([question, way?.name, way?.profile.length, calibrations.map((one) => one?.rides.length)]);
  const ask = useMemo((): AskedHere['setups'] | undefined => {
    if (!way || !isReady) return undefined;
    return calibrations.map((one) => ({
      calibration: one.calibration as unknown as Calibration,
      trust: one.trust as Trust,
      scenario: scenarioOf(question, one.usual, way),
    }));
    // The key holds all that the question is made of.
    // oxlint-disable-next-line react/exhaustive-deps
  }, [key, isReady]);
  const { answer, isRough } = useForecast(ask);
  const failed = queries.find(({ error }) => error !== undefined);
  const first = calibrations[0];
  const answers = answer && answer.answers.length === question.setups.length ? answer.answers : [];
  const refused = answers.flatMap((one) => ('refusal' in one ? [one.refusal] : []));
  const drawn = answers.flatMap((one, k): DrawnSetup[] => {
    const setup = setups.find(({ id }) => id === question.setups[k]);
    return 'refusal' in one || !setup ? [] : [{ letter: LETTERS[k]!, name: setup.name, answer: one }];
  });
  return (
    <div className="forecast">
      <QuestionForm
        question={question}
        setups={setups}
        courses={courses}
        usual={first?.usual}
        way={way}
        onChange={onChange}
        onWay={onDropped}
      />
      <div className="forecast-out">
        {failed && <Problem error={failed.error} />}
        {!failed && !isReady && (
          <Loading>
            <p className="quiet">Learning the bike from its rides; the first time this takes some seconds.</p>
          </Loading>
        )}
        {isReady && ask && !answer && <Loading />}
        {isReady && !way && <p className="quiet">Choose a way: a course, a slope, or a track.</p>}
        {refused.map((words) => (
          <p key={words} className="problem" role="alert">
            {words}
          </p>
        ))}
        {drawn.length > 0 && way && (
          <>
            <AnswerWords
              setups={drawn}
              wayM={way.profile.at(-1)!.distanceM - way.profile[0]!.distanceM}
              reserveShare={question.reserveShare}
              isRough={isRough}
            />
            <KeepButton question={question} way={way} drawn={drawn} isRough={isRough} />
            <AlongChart
              setups={drawn}
              reserveShare={question.reserveShare}
              temperatureLimitC={first?.usual.temperatureLimitC ?? null}
            />
            <h2 className="mt-16">Figures</h2>
            <FigureRows setups={drawn} />
            <h2 className="mt-16">What matters most</h2>
            {drawn.map((setup) => (
              <div key={setup.letter} className="mt-6">
                {drawn.length > 1 && <SetupMark letter={setup.letter} label={setup.name} />}
                <WhatMatters setup={setup} />
              </div>
            ))}
          </>
        )}
        {calibrations.map(
          (one, k) =>
            one && (
              <section key={one.setup.id} aria-label={`Trust in ${one.setup.name}`}>
                <h2 className="mt-16">
                  How far to trust it{calibrations.length > 1 ? `: ${LETTERS[k]!} ${one.setup.name}` : ''}
                </h2>
                <TrustPart calibration={one} />
              </section>
            ),
        )}
        {courses.some(({ id }) => id === question.course) && <CourseRuns courseId={question.course} />}
        <h2 className="mt-16">Kept</h2>
        <KeptPart />
        <section aria-label="By rule of thumb">
          <h2 className="mt-16">By rule of thumb</h2>
          <p className="quiet">An ordinary round, not this way: to see whether the forecast is plausible.</p>
          {question.setups.map((id, k) => (
            <ThumbPart key={id} setupId={id} letter={LETTERS[k]!} reserveShare={question.reserveShare} />
          ))}
        </section>
      </div>
    </div>
  );
}

function KeepButton({
  question,
  way,
  drawn,
  isRough,
}: {
  readonly question: Question;
  readonly way: Way;
  readonly drawn: readonly DrawnSetup[];
  readonly isRough: boolean;
}) {
  const [keep, { isLoading }] = useKeepForecastMutation();
  const [title, setTitle] = useState('');
  const [isOpen, setOpen] = useState(false);
  const notices = useNotices();
  const named = title.trim() || way.name;
  const store = async (): Promise<void> => {
    for (const [k, { name, answer }] of drawn.entries()) {
      const failed = notices.failure(
        await keep({
          title: drawn.length > 1 ? `${named}: ${name}`.slice(0, 120) : named.slice(0, 120),
          setupId: question.setups[k]!,
          courseId: /^[\da-f-]{36}$/.test(question.course) ? question.course : null,
          question: { address: writeQuestion(question).toString(), words: way.name },
          figures: answer.figures.map((figure) => ({
            ...figure,
            interval95: [figure.interval95[0], figure.interval95[1]] as [number, number],
            contributions: [...figure.contributions],
          })),
        }),
      );
      if (failed) return;
    }
    setOpen(false);
    setTitle('');
    notices.success('Kept. It stands at the foot of this page.');
  };
  return (
    <div className="mt-6">
      <Popover
        open={isOpen}
        onOpenChange={setOpen}
        trigger="click"
        placement="bottomLeft"
        content={
          <form
            className="keep-form"
            onSubmit={(event) => {
              event.preventDefault();
              void store();
            }}
          >
            <label>
              <span>What it is for</span>
              <Input
                value={title}
                placeholder={way.name}
                maxLength={100}
                onChange={({ target }) => setTitle(target.value)}
              />
            </label>
            <Button type="primary" htmlType="submit" loading={isLoading}>
              Keep it
            </Button>
          </form>
        }
      >
        <Button type="primary" disabled={isRough}>
          Keep this forecast
        </Button>
      </Popover>
    </div>
  );
}
