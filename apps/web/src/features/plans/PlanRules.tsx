import { Button, Checkbox, Input, Select } from 'antd';
import { Link } from 'react-router';
import { useState, type ReactNode } from 'react';
import type { Course, PlanInput, PlanTest } from '@ebrix/contract';
import { EFFORTS } from '@ebrix/core/ride-model';
import { PART_WAY_RULES, TEST_KINDS, TEST_KIND_NAMES } from '@ebrix/core/analysis';
import { QuantityInput } from '../../shared/ui/QuantityInput.js';

interface Props {
  readonly input: PlanInput;
  readonly courses: readonly Course[];
  readonly onChange: (change: Partial<PlanInput>) => void;
}

const MAX_TESTS = 6;

/** What is ridden: tests, courses, how many runs in how many outings. */
export function PlanTests({ input, courses, onChange }: Props) {
  const change = (index: number, part: Partial<PlanTest>): void =>
    onChange({ tests: input.tests.map((test, k) => (k === index ? { ...test, ...part } : test)) });
  return (
    <div>
      {input.tests.map((test, k) => (
        <div key={k} className="plan-test">
          <Labelled label="Test">
            <Select
              value={test.testKind}
              onChange={(testKind) => change(k, { testKind, isBothWays: TEST_KINDS[testKind].bothDirections })}
              options={TEST_KIND_NAMES.map((value) => ({ value, label: TEST_KINDS[value].label }))}
            />
          </Labelled>
          <Labelled label="Course">
            <Select
              showSearch={{ optionFilterProp: 'label' }}
              value={test.courseId}
              onChange={(courseId) => change(k, { courseId })}
              options={courses
                .filter(({ archivedAt }) => archivedAt === null)
                .map(({ id, name }) => ({ value: id, label: name }))}
            />
          </Labelled>
          <Labelled label="Effort">
            <Select
              value={test.effort}
              onChange={(effort) => change(k, { effort })}
              options={(Object.keys(EFFORTS) as (keyof typeof EFFORTS)[]).map((value) => ({
                value,
                label: EFFORTS[value].label,
              }))}
            />
          </Labelled>
          <Labelled label="Level">
            <Input
              value={test.level}
              placeholder="as set"
              onChange={({ target }) => change(k, { level: target.value })}
            />
          </Labelled>
          <Labelled label="Laps">
            <Whole value={test.laps} least={1} most={50} onChange={(laps) => change(k, { laps })} />
          </Labelled>
          <div className="self-end flex gap-8 items-center min-h-32">
            <Checkbox checked={test.isBothWays} onChange={({ target }) => change(k, { isBothWays: target.checked })}>
              there and back
            </Checkbox>
            {TEST_KINDS[test.testKind].needsFullPack && (
              <Checkbox checked={test.isPartWay} onChange={({ target }) => change(k, { isPartWay: target.checked })}>
                part of a charge
              </Checkbox>
            )}
            {input.tests.length > 1 && (
              <Button size="small" onClick={() => onChange({ tests: input.tests.filter((_, j) => j !== k) })}>
                Remove
              </Button>
            )}
          </div>
          <p className="quiet" style={{ gridColumn: '1 / -1' }}>
            {TEST_KINDS[test.testKind].how} {test.isPartWay && `${PART_WAY_RULES} `}
            <Link to={`/how/${test.testKind}`}>How to ride it, step by step</Link>
          </p>
        </div>
      ))}
      {input.tests.length < MAX_TESTS && (
        <Button onClick={() => onChange({ tests: [...input.tests, input.tests.at(-1)!] })}>Add a test</Button>
      )}
    </div>
  );
}

/** When and how there is riding. */
export function OutingRules({ input, onChange }: Omit<Props, 'courses'>) {
  return (
    <div className="plan-rules">
      <Labelled label="Starts at">
        <Input
          value={input.startsAt}
          onChange={({ target }) => onChange({ startsAt: target.value })}
          status={isClock(input.startsAt)}
        />
      </Labelled>
      <Labelled label="Hours available">
        <Amount value={input.hoursPerOuting} onChange={(hoursPerOuting) => onChange({ hoursPerOuting })} />
      </Labelled>
      <Labelled label="Dark from">
        <Input
          value={input.darkFrom}
          onChange={({ target }) => onChange({ darkFrom: target.value })}
          status={isClock(input.darkFrom)}
        />
      </Labelled>
      <Labelled label="Changing the setup, min">
        <Amount value={input.changeSetupMin} onChange={(changeSetupMin) => onChange({ changeSetupMin })} />
      </Labelled>
      <Labelled label="Between runs, min">
        <Amount value={input.betweenRunsMin} onChange={(betweenRunsMin) => onChange({ betweenRunsMin })} />
      </Labelled>
      <Labelled label="Rest after charging, min">
        <Amount value={input.restAfterChargeMin} onChange={(restAfterChargeMin) => onChange({ restAfterChargeMin })} />
      </Labelled>
      <Labelled label="Reserve in the pack">
        <QuantityInput
          unit="1"
          shownAs="%"
          value={input.reserveShare}
          onChange={(value) => isNumber(value) && onChange({ reserveShare: Math.min(0.9, Math.max(0, value)) })}
        />
      </Labelled>
      <Labelled label="Expected temperature">
        <QuantityInput
          unit="°C"
          value={input.airTemperatureC}
          onChange={(value) => isNumber(value) && onChange({ airTemperatureC: value })}
        />
      </Labelled>
      <Checkbox checked={input.hasChargerOut} onChange={({ target }) => onChange({ hasChargerOut: target.checked })}>
        We bring a charger
      </Checkbox>
      <Checkbox checked={input.isBlocked} onChange={({ target }) => onChange({ isBlocked: target.checked })}>
        In rounds: every setup once per round
      </Checkbox>
    </div>
  );
}

export function Labelled({ label, children }: { readonly label: string; readonly children: ReactNode }) {
  return (
    <label className="labelled">
      <span>{label}</span>
      {children}
    </label>
  );
}

/** A whole number within its limits; other text is left until it is one. */
export function Whole({
  value,
  least,
  most,
  onChange,
}: {
  readonly value: number;
  readonly least: number;
  readonly most: number;
  readonly onChange: (value: number) => void;
}) {
  // What is being typed need not be a number yet; it becomes one or goes back to the last that was.
  const [text, setText] = useState(String(value));
  const [shown, setShown] = useState(value);
  if (shown !== value) {
    setShown(value);
    setText(String(value));
  }
  const read = (typed: string): number | undefined => {
    const number = Number(typed);
    return typed.trim() !== '' && Number.isInteger(number) && number >= least && number <= most ? number : undefined;
  };
  return (
    <Input
      type="number"
      min={least}
      max={most}
      value={text}
      status={read(text) === undefined ? 'error' : ''}
      onChange={({ target }) => {
        setText(target.value);
        const number = read(target.value);
        if (number === undefined) return;
        setShown(number);
        onChange(number);
      }}
      onBlur={() => read(text) === undefined && setText(String(value))}
    />
  );
}

function Amount({ value, onChange }: { readonly value: number; readonly onChange: (value: number) => void }) {
  return (
    <QuantityInput unit="level" value={value} onChange={(next) => isNumber(next) && next >= 0 && onChange(next)} />
  );
}

const isNumber = (value: number | null): value is number => value !== null && Number.isFinite(value);
const isClock = (text: string): '' | 'error' => (/^([01]\d|2[0-3]):[0-5]\d$/.test(text) ? '' : 'error');
