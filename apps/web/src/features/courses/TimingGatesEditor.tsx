import { Button, Input, Popconfirm, Select } from 'antd';
import { useState } from 'react';
import type { Course, TimingGate } from '@ebrix/contract';
import { errorCode } from '../../shared/api/base-api.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { QuantityInput } from '../../shared/ui/QuantityInput.js';
import { useSetGatesMutation } from '../../entities/course/index.js';
import { TIMING_GATE_LABELS } from './course-labels.js';
import { CoursePlan } from './CoursePlan.js';
import { TimingGateProfile } from './TimingGateProfile.js';

/** Gates by distance or dragged on the profile; moving them cuts the runs of the course anew, after asking. */
export function TimingGatesEditor({ course }: { readonly course: Course }) {
  const [gates, setGates] = useState<readonly TimingGate[]>(course.gates);
  const [placing, setPlacing] = useState<number>();
  const [save, { isLoading, error, reset }] = useSetGatesMutation();
  const lengthM = course.lengthM ?? 0;
  if (!(lengthM > 0)) return <p className="quiet">Gates can be set once the course has a length or a track.</p>;
  const isChanged = JSON.stringify(gates) !== JSON.stringify(course.gates);
  const needsAsking = errorCode(error) === 'recut-needed';
  const change = (index: number, part: Partial<TimingGate>): void =>
    setGates(gates.map((gate, k) => (k === index ? { ...gate, ...part } : gate)));
  const add = (kind: TimingGate['kind']): void =>
    setGates([
      ...gates,
      { kind, name: '', distanceM: kind === 'start' ? 0 : kind === 'finish' ? lengthM : Math.round(lengthM / 2) },
    ]);
  const store = (recutRuns: boolean): void =>
    void save({
      id: course.id,
      version: course.version,
      gates: [...gates].sort((a, b) => a.distanceM - b.distanceM),
      recutRuns,
    }).then((result) => {
      if ('data' in result && result.data) setGates(result.data.gates);
    });
  const hasPlan = (course.track?.plan.length ?? 0) > 1;
  const missing = (['start', 'finish'] as const).filter((kind) => !gates.some((gate) => gate.kind === kind));
  return (
    <div>
      <TimingGateProfile
        lengthM={lengthM}
        profile={course.track?.profile ?? null}
        gates={gates}
        onMove={(index, distanceM) => change(index, { distanceM })}
      />
      {gates.length === 0 && (
        <p className="quiet">
          No gates: the whole course counts. Set a start and a finish to time a climb or a strip between them.
        </p>
      )}
      {gates.map((gate, k) => (
        <div key={k} className="gate-row">
          <Select
            aria-label="Gate type"
            value={gate.kind}
            onChange={(kind) => change(k, { kind })}
            options={Object.entries(TIMING_GATE_LABELS).map(([value, label]) => ({ value, label }))}
          />
          <Input
            aria-label="Gate name"
            placeholder="Name"
            value={gate.name}
            onChange={({ target }) => change(k, { name: target.value })}
          />
          <QuantityInput
            aria-label="Gate distance"
            unit="m"
            value={gate.distanceM}
            onChange={(distanceM) => distanceM !== null && !Number.isNaN(distanceM) && change(k, { distanceM })}
          />
          {hasPlan && (
            <Button
              aria-pressed={placing === k}
              type={placing === k ? 'primary' : 'default'}
              onClick={() => setPlacing(placing === k ? undefined : k)}
            >
              On the map
            </Button>
          )}
          <Button
            onClick={() => {
              setPlacing(undefined);
              setGates(gates.filter((_, j) => j !== k));
            }}
          >
            Remove
          </Button>
        </div>
      ))}
      {placing !== undefined && hasPlan && (
        <div className="mt-10">
          <p>Tap the spot on the course.</p>
          <CoursePlan
            track={course.track!}
            gates={gates}
            height={260}
            onPick={(distanceM) => change(placing, { distanceM: Math.min(lengthM, Math.round(distanceM)) })}
          />
        </div>
      )}
      <div className="actions mt-8">
        {missing.map((kind) => (
          <Button key={kind} onClick={() => add(kind)}>
            Add {TIMING_GATE_LABELS[kind].toLowerCase()}
          </Button>
        ))}
        <Button onClick={() => add('lap')}>Add lap gate</Button>
        <Button onClick={() => add('temperature-stop')}>Add temperature stop</Button>
      </div>
      {error !== undefined && !needsAsking && <Problem error={error} />}
      {isChanged && (
        <div className="actions mt-12">
          {course.runCount > 0 ? (
            <Popconfirm
              title={`Re-cut ${course.runCount} runs?`}
              description="Their figures are recalculated between the new gates. Old figures stay in each run’s history."
              okText="Re-cut"
              cancelText="Not now"
              onConfirm={() => store(true)}
            >
              <Button type="primary" loading={isLoading}>
                Save gates
              </Button>
            </Popconfirm>
          ) : (
            <Button type="primary" loading={isLoading} onClick={() => store(false)}>
              Save gates
            </Button>
          )}
          <Button
            onClick={() => {
              reset();
              setGates(course.gates);
            }}
          >
            Undo changes
          </Button>
        </div>
      )}
    </div>
  );
}
