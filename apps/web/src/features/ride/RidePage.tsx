import { Button, Form, Input, InputNumber, Select } from 'antd';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { countSafetyChecks } from '../../shared/format/count-checks.js';
import type { NewRide, RideOverview } from '@ebrix/contract';
import { EFFORTS } from '@ebrix/core/ride-model';
import { TEST_KINDS, TEST_KIND_NAMES } from '@ebrix/core/analysis';
import { QueryView, Problem } from '../../shared/ui/QueryView.js';
import { FilePicker } from '../../shared/ui/FilePicker.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { Page } from '../../shared/ui/Page.js';
import { SetupMark } from '../../shared/ui/SetupMark.js';
import { useListCoursesQuery } from '../../entities/course/index.js';
import { useShortcut } from '../../shared/shortcuts/index.js';
import { useListSetupsQuery } from '../../entities/setup/index.js';
import { useBeginRideMutation, useBringOutingFileMutation, useGetRideOverviewQuery } from './api.js';
import { STATE_LABELS } from './ride-labels.js';

/** Where a tester stands at the roadside: what is under way, what comes next. */
export default function RidePage() {
  const query = useGetRideOverviewQuery(undefined, { refetchOnMountOrArgChange: true });
  const [isFree, setFree] = useState(false);
  return (
    <Page title="Ride" actions={<Button onClick={() => setFree(!isFree)}>Ride outside a plan</Button>}>
      {isFree && <FreeRide />}
      <QueryView query={query}>{(overview) => <Overview overview={overview} />}</QueryView>
      <ByPhone />
    </Page>
  );
}

const OUTCOMES = { taken: 'taken in', 'was-here': 'here already', refused: 'not taken' } as const;

/** A phone leads an outing where no server is; what it could not send comes as a file. */
function ByPhone() {
  const [bring, { data, error, isLoading }] = useBringOutingFileMutation();
  return (
    <section className="section">
      <h2>With a phone, where no network is</h2>
      <p className="mb-10">
        A phone takes an outing along, leads its rides by itself and brings them back. Open{' '}
        <a href="/along">its own page</a> on the phone while Ebrix is in reach.
      </p>
      <FilePicker
        label="Take in a file from a phone"
        name="Outing of a phone"
        accept=".zip,.json,application/zip,application/json"
        isLoading={isLoading}
        onFile={(file) => void bring(file)}
      />
      {error !== undefined && <Problem error={error} />}
      {data && (
        <ul aria-label="What became of each ride">
          {data.map(({ what, id, setup, outcome, message }, k) => (
            <li key={id}>
              {what === 'ride' ? `Ride ${k + 1}` : `Photo ${k + 1 - data.findIndex((one) => one.what === 'photo')}`}
              {setup && ` of ${setup}`}: {OUTCOMES[outcome]}
              {outcome === 'refused' ? `. ${message}` : '.'}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function Overview({ overview: { underway, next, recent } }: { readonly overview: RideOverview }) {
  const navigate = useNavigate();
  const [begin, { isLoading, error }] = useBeginRideMutation();
  const start = (slotId: string): void =>
    void begin({ slotId }).then((result) => 'data' in result && result.data && navigate(`/ride/${result.data.id}`));
  useShortcut('n', 'Next run', () => {
    if (underway[0]) void navigate(`/ride/${underway[0].id}`);
    else if (next[0]) start(next[0].slotId);
  });
  return (
    <>
      {error !== undefined && <Problem error={error} />}
      {underway.length > 0 && (
        <section>
          <h2>In progress</h2>
          <ul className="ride-list">
            {underway.map((ride) => (
              <li key={ride.id}>
                <div>
                  <Link to={`/ride/${ride.id}`} className="ride-name">
                    {ride.setup}
                  </Link>
                  <div>
                    {TEST_KINDS[ride.testKind].label}, {ride.course}
                    {ride.question && <span className="quiet"> · {ride.question}</span>}
                  </div>
                </div>
                <LinkButton isMain to={`/ride/${ride.id}`} label={`${STATE_LABELS[ride.state]}: continue`} />
              </li>
            ))}
          </ul>
        </section>
      )}
      <section className={underway.length > 0 ? 'section' : ''}>
        <h2>Next in the plan</h2>
        {next.length === 0 ? (
          <div className="teach pt-16 pb-16 px-0">
            <p>No planned run is waiting. A plan says which setup is next, so that wind or warmth favours none.</p>
            <LinkButton isMain to="/trials" label="Plan a trial" />
          </div>
        ) : (
          <ul className="ride-list">
            {next.map((slot, k) => (
              <li key={slot.slotId}>
                <div>
                  <div className="flex gap-10 items-center">
                    <SetupMark letter={slot.letter} />
                    <strong className="ride-name">{slot.setup}</strong>
                  </div>
                  <div>
                    Run <span className="figures">{slot.number}</span> of <span className="figures">{slot.of}</span>,
                    outing <span className="figures">{slot.outing}</span>: {TEST_KINDS[slot.testKind].label},{' '}
                    {slot.course}
                  </div>
                  <div className="quiet">
                    <Link to={`/trials/${slot.trialId}/plan`}>{slot.question}</Link>
                  </div>
                  {slot.openClearance > 0 && (
                    <p className="caution mt-6">
                      Still to do on this setup: {countSafetyChecks(slot.openClearance)}: pass or waive them before
                      anyone rides.
                    </p>
                  )}
                </div>
                <Button
                  type={k === 0 ? 'primary' : 'default'}
                  size="large"
                  loading={isLoading}
                  onClick={() => start(slot.slotId)}
                >
                  Prepare this run
                </Button>
              </li>
            ))}
          </ul>
        )}
      </section>
      {recent.length > 0 && (
        <section className="section">
          <h2>Recent rides</h2>
          <table className="rows">
            <tbody>
              {recent.map((ride) => (
                <tr key={ride.id}>
                  <td>
                    {new Date(ride.createdAt).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' })}
                  </td>
                  <td>{ride.setup}</td>
                  <td>{ride.course}</td>
                  <td>
                    <Link to={`/ride/${ride.id}`}>{STATE_LABELS[ride.state]}</Link>
                  </td>
                  <td>{ride.runId && <Link to={`/runs/${ride.runId}`}>its run</Link>}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </>
  );
}

type FreeValues = Extract<NewRide, { revisionId: string }>;

function FreeRide() {
  const navigate = useNavigate();
  const { data: setups } = useListSetupsQuery();
  const { data: courses } = useListCoursesQuery();
  const [begin, { isLoading, error }] = useBeginRideMutation();
  return (
    <Form<FreeValues>
      layout="vertical"
      requiredMark={false}
      className="plan-rules mb-20"

      initialValues={{ testKind: 'range', effort: 'steady', direction: 1, level: '', laps: 1 }}
      onFinish={(values) =>
        void begin({ ...values, direction: 1, level: values.level.trim(), laps: values.laps ?? 1 }).then(
          (result) => 'data' in result && result.data && navigate(`/ride/${result.data.id}`),
        )
      }
    >
      <Form.Item name="revisionId" label="Setup" rules={[{ required: true, message: 'Choose a setup.' }]}>
        <Select
          showSearch={{ optionFilterProp: 'label' }}
          options={(setups ?? [])
            .filter(({ archivedAt }) => archivedAt === null)
            .map(({ name, revisions }) => ({ value: revisions[0]!.id, label: name }))}
        />
      </Form.Item>
      <Form.Item name="courseId" label="Course" rules={[{ required: true, message: 'Choose a course.' }]}>
        <Select
          showSearch={{ optionFilterProp: 'label' }}
          options={(courses ?? [])
            .filter(({ archivedAt }) => archivedAt === null)
            .map(({ id, name }) => ({ value: id, label: name }))}
        />
      </Form.Item>
      <Form.Item name="testKind" label="Test">
        <Select
          showSearch={{ optionFilterProp: 'label' }}
          options={TEST_KIND_NAMES.map((value) => ({ value, label: TEST_KINDS[value].label }))}
        />
      </Form.Item>
      <Form.Item name="effort" label="Effort">
        <Select
          options={(Object.keys(EFFORTS) as (keyof typeof EFFORTS)[]).map((value) => ({
            value,
            label: EFFORTS[value].label,
          }))}
        />
      </Form.Item>
      <Form.Item name="level" label="Assist level">
        <Input maxLength={20} placeholder="as on the display" />
      </Form.Item>
      <Form.Item name="laps" label="Laps">
        <InputNumber min={1} max={50} precision={0} className="w-100-pct" />
      </Form.Item>
      <Form.Item label=" " colon={false}>
        <Button type="primary" htmlType="submit" loading={isLoading}>
          Prepare this ride
        </Button>
      </Form.Item>
      {error !== undefined && <Problem error={error} />}
    </Form>
  );
}
