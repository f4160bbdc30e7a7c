import { Button, Checkbox, Segmented, Select } from 'antd';
import { useState } from 'react';
import { readCourseFile, trackOfFile } from '@ebrix/core/courses';
import { headedWay } from '@ebrix/core/forecast';
import type { Course, Setup, SetupCalibration } from '@ebrix/contract';
import { FileDrop } from '../../shared/ui/FileDrop.js';
import { QuantityInput } from '../../shared/ui/QuantityInput.js';
import {
  COMPASS,
  MOST_SETUPS,
  settled,
  WIND_FROM,
  WINDS,
  type Question,
  type SecondUse,
  type WindFrom,
  type WindStrength,
} from './question.js';
import { SlideField } from './SlideField.js';
import { windFromOf, type Way } from './to-scenario.js';

interface Props {
  readonly question: Question;
  readonly setups: readonly Setup[];
  readonly courses: readonly Course[];
  readonly usual: SetupCalibration['usual'] | undefined;
  readonly way: Way | undefined;
  readonly onChange: (change: Partial<Question>) => void;
  readonly onWay: (way: Way) => void;
}

/** Which setup, where, and how: everything of it stands in the address. */
export function QuestionForm({ question, setups, courses, usual, way, onChange, onWay }: Props) {
  return (
    <form className="question" aria-label="Question" onSubmit={(event) => event.preventDefault()}>
      <label className="question-field">
        <span>Setups, three at most</span>
        <Select
          mode="multiple"
          value={[...question.setups]}
          maxCount={MOST_SETUPS}
          options={setups.map(({ id, name }) => ({ value: id, label: name }))}
          optionFilterProp="label"
          aria-label="Setups"
          placeholder="Choose a setup"
          onChange={(list: string[]) => onChange({ setups: list })}
        />
      </label>
      <WayFields question={question} courses={courses} way={way} onChange={onChange} onWay={onWay} />
      {usual && <RidingFields question={question} usual={usual} onChange={onChange} />}
      {usual && <AirFields question={question} way={way} onChange={onChange} />}
      {usual && <PackFields question={question} usual={usual} onChange={onChange} />}
    </form>
  );
}

function WayFields({
  question,
  courses,
  way,
  onChange,
  onWay,
}: Pick<Props, 'courses' | 'onChange' | 'onWay' | 'question' | 'way'>) {
  const [problem, setProblem] = useState<string>();
  const take = async (files: readonly File[]): Promise<void> => {
    const [file] = files;
    if (!file) return;
    const outcome = await readWay(file);
    if (typeof outcome === 'string') setProblem(outcome);
    else {
      setProblem(undefined);
      onWay(outcome);
    }
  };
  return (
    <fieldset>
      <legend>The way</legend>
      <Select
        value={question.course === '' ? null : question.course}
        aria-label="Course"
        placeholder="Choose a course"
        showSearch
        optionFilterProp="label"
        options={[
          ...courses
            .filter(({ archivedAt, lengthM }) => archivedAt === null && lengthM !== null)
            .map(({ id, name }) => ({ value: id, label: name })),
          { value: 'slope', label: 'A slope of my own' },
          { value: 'file', label: 'A track from a file' },
        ]}
        onChange={(course: string) => onChange({ course })}
      />
      {question.course === 'slope' && (
        <div className="question-pair">
          <label>
            <span className="quiet">Length</span>
            <QuantityInput
              unit="m"
              value={question.lengthM}
              aria-label="Length of the slope"
              onChange={(lengthM) => lengthM !== null && lengthM >= 50 && onChange({ lengthM })}
            />
          </label>
          <label>
            <span className="quiet">Slope</span>
            <QuantityInput
              unit="1"
              shownAs="%"
              value={question.grade}
              aria-label="Slope"
              onChange={(grade) => grade !== null && Math.abs(grade) <= 0.3 && onChange({ grade })}
            />
          </label>
        </div>
      )}
      {question.course === 'file' && (
        <>
          <FileDrop
            label="Choose a track"
            hint="GPX or GeoJSON with heights. It stays in this window; add it to the courses to share it."
            accept=".gpx,.geojson,.json"
            onFiles={(files) => void take(files)}
          />
          {problem && (
            <p className="problem" role="alert">
              {problem}
            </p>
          )}
          {way && <p className="quiet">{way.name}</p>}
        </>
      )}
      {question.course !== '' && question.course !== 'slope' && (
        <Checkbox checked={question.isBack} onChange={({ target }) => onChange({ isBack: target.checked })}>
          The other way round
        </Checkbox>
      )}
      {question.course !== '' && (
        <Checkbox checked={question.isReturn} onChange={({ target }) => onChange({ isReturn: target.checked })}>
          And back again
        </Checkbox>
      )}
      {way?.note && <p className="quiet">{way.note}</p>}
    </fieldset>
  );
}

/** The way in a file, or why it has none. */
async function readWay(file: File): Promise<Way | string> {
  const outcome = readCourseFile(new Uint8Array(await file.arrayBuffer()));
  if (!outcome.ok) return outcome.problem.message;
  const track = trackOfFile(outcome.value);
  if (!track) return 'Fewer than two positions can be read in this file.';
  const level = [
    { distanceM: 0, altitudeM: 0 },
    { distanceM: track.lengthM, altitudeM: 0 },
  ];
  const { points, isByCompass } = headedWay(track.profile ?? level, { plan: track.plan, returns: 'no' });
  return {
    name: `${file.name}, ${(track.lengthM / 1000).toFixed(1)} km`,
    profile: points,
    isByCompass,
    isRound: false,
    note: track.profile ? undefined : 'This track has no heights: it is taken as level.',
  };
}

/** Of what both give at once, each its part by its charge. */
function sharesOf(firstAh: number | null, secondAh: number): string {
  if (firstAh === null) return '';
  const first = Math.round((100 * firstAh) / (firstAh + secondAh));
  return ` The first gives about ${first} % of the current, the second ${100 - first} %, if they are equally fresh.`;
}

type PartProps = Pick<Props, 'onChange' | 'question'> & { readonly usual: SetupCalibration['usual'] };

function RidingFields({ question, usual, onChange }: PartProps) {
  const { totalMassKg, riderPowerW, targetSpeedKmh } = settled(question, usual);
  return (
    <fieldset>
      <legend>How it is ridden</legend>
      <SlideField
        label={usual.massIsKnown ? 'All there is, with rider and load' : 'All there is (guessed: a mass is missing)'}
        value={totalMassKg}
        unit="kg"
        low={50}
        high={220}
        step={1}
        isChosen={question.totalMassKg !== undefined}
        onChange={(value) => onChange({ totalMassKg: value })}
      />
      <SlideField
        label="Speed the rider holds"
        value={targetSpeedKmh}
        unit="km/h"
        low={10}
        high={Math.max(32, Math.round((usual.helpEndsKmh ?? 25) + 8))}
        step={0.5}
        isChosen={question.targetSpeedKmh !== undefined}
        onChange={(value) => onChange({ targetSpeedKmh: value })}
      />
      <SlideField
        label="Rider’s own power"
        value={riderPowerW}
        unit="W"
        low={0}
        high={250}
        step={5}
        isChosen={question.riderPowerW !== undefined}
        onChange={(value) => onChange({ riderPowerW: value })}
      />
      {usual.levels.length > 0 && (
        <label className="question-field">
          <span className={question.level === undefined ? 'quiet' : ''}>Level</span>
          <Select
            allowClear
            value={question.level}
            placeholder="up to the most its rides had"
            aria-label="Level"
            options={usual.levels.map(({ level, demand }) => ({
              value: level,
              label: `${level}: ${Math.round(100 * demand)} % of full help, as ridden`,
            }))}
            onChange={(level: number | undefined) => onChange({ level })}
          />
        </label>
      )}
      <SlideField
        label="Stops on a kilometre"
        value={question.stopsPerKm}
        unit="1"
        low={0}
        high={6}
        step={0.5}
        isChosen={question.stopsPerKm > 0}
        onChange={(value) => onChange({ stopsPerKm: value })}
      />
    </fieldset>
  );
}

function AirFields({ question, way, onChange }: Pick<Props, 'onChange' | 'question' | 'way'>) {
  const choices = (from: Readonly<Record<string, { readonly label: string }>>) =>
    Object.entries(from).map(([value, { label }]) => ({ value, label }));
  return (
    <fieldset>
      <legend>Air</legend>
      <SlideField
        label="Temperature"
        value={question.airTemperatureC}
        unit="°C"
        low={-15}
        high={40}
        step={1}
        isChosen
        onChange={(value) => onChange({ airTemperatureC: value })}
      />
      <div className="question-wind">
        <Segmented
          aria-label="Wind"
          value={question.wind}
          options={Object.entries(WINDS).map(([value, { label }]) => ({ value, label }))}
          onChange={(wind) => onChange({ wind: wind as WindStrength })}
        />
        {question.wind !== 'calm' && (
          <Select
            value={windFromOf(question, { isByCompass: way?.isByCompass ?? false })}
            aria-label="Where the wind comes from"
            options={
              way?.isByCompass
                ? [
                    { label: 'As the way sets out', options: choices(WIND_FROM) },
                    { label: 'By the compass', options: choices(COMPASS) },
                  ]
                : [{ label: 'As the way sets out', options: choices(WIND_FROM) }]
            }
            onChange={(windFrom: WindFrom) => onChange({ windFrom })}
          />
        )}
        {question.wind !== 'calm' && way?.isRound && (
          <span className="quiet">
            {way.isByCompass
              ? 'It is reckoned along every bend of this way.'
              : 'The way comes back: what blows from ahead on one part pushes on another, and costs a little in the end.'}
          </span>
        )}
      </div>
    </fieldset>
  );
}

function PackFields({ question, usual, onChange }: PartProps) {
  const { secondAh, secondKg } = settled(question, usual);
  return (
    <fieldset>
      <legend>Battery</legend>
      <SlideField
        label="Charge at the start"
        value={question.startShare}
        unit="1"
        isShare
        low={0.15}
        high={1}
        step={0.05}
        isChosen
        onChange={(startShare) => onChange({ startShare })}
      />
      <SlideField
        label="Kept back as reserve"
        value={question.reserveShare}
        unit="1"
        isShare
        low={0}
        high={0.4}
        step={0.05}
        isChosen
        onChange={(reserveShare) => onChange({ reserveShare })}
      />
      <Checkbox checked={question.hasSecondPack} onChange={({ target }) => onChange({ hasSecondPack: target.checked })}>
        A second pack beside it
      </Checkbox>
      {question.hasSecondPack && (
        <>
          <SlideField
            label="Its charge when full"
            value={secondAh}
            unit="Ah"
            low={2}
            high={30}
            step={0.5}
            isChosen={question.secondAh !== undefined}
            onChange={(value) => onChange({ secondAh: value })}
          />
          <SlideField
            label="Its mass"
            value={secondKg}
            unit="kg"
            low={0.5}
            high={12}
            step={0.1}
            isChosen={question.secondKg !== undefined}
            onChange={(value) => onChange({ secondKg: value })}
          />
          <Segmented
            aria-label="How both packs are used"
            value={question.secondUse}
            options={[
              { value: 'together', label: 'Both at once' },
              { value: 'in turn', label: 'One after the other' },
            ]}
            onChange={(use) => onChange({ secondUse: use as SecondUse })}
          />
          <p className="quiet">
            {question.secondUse === 'together'
              ? `Both at once need packs that are made for it: the same voltage, and a coupler that keeps one from charging the other.${sharesOf(usual.packAh, secondAh)}`
              : 'Each gives the whole current while it is on, so the voltage sags more than with both at once. The reserve is kept in the second.'}
          </p>
        </>
      )}
      <Button
        onClick={() =>
          onChange({
            totalMassKg: undefined,
            riderPowerW: undefined,
            targetSpeedKmh: undefined,
            level: undefined,
            secondAh: undefined,
            secondKg: undefined,
          })
        }
      >
        As this setup usually is
      </Button>
    </fieldset>
  );
}
