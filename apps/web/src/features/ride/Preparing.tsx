import { Button, Checkbox, Select } from 'antd';
import { Link } from 'react-router';
import { countSafetyChecks } from '../../shared/format/count-checks.js';
import type { Ride } from '@ebrix/contract';
import { PART_WAY_RULES } from '@ebrix/core/analysis';
import { useUnits } from '../../shared/preferences/index.js';
import { formatQuantity } from '../../shared/format/format-quantity.js';
import { PSI_ABOVE, QuantityInput } from '../../shared/ui/QuantityInput.js';
import { useListPartsQuery } from '../../entities/part/index.js';
import type { Steps } from './steps.js';
import { preparedCount } from './ride-labels.js';
import { useStoredStep, type RideSaver } from './use-ride-saver.js';

/** A tenth of a volt a cell short of full is a pack that was not charged to the end, or not at rest. */
const NOT_FULL_SHARE = 0.985;
/** A charger that ends high, and a pack that was run flat and rests: what lies outside is another pack or a slip. */
const MOST_OF_FULL = 1.06;
const LEAST_OF_FULL = 0.5;

/** What is checked and read before the run, in the order of the hands. */
export function Preparing({
  ride,
  saver,
  steps,
  onAbort,
}: {
  readonly ride: Ride;
  readonly saver: RideSaver;
  readonly steps: Steps;
  readonly onAbort: () => void;
}) {
  const system = useUnits();
  const preparation = saver.values('preparation');
  const change = (values: Partial<Ride['preparation']>): void => saver.change({ preparation: values });
  const { data: riders } = useListPartsQuery('riders');
  const { data: loggers } = useListPartsQuery('loggers');
  /** Nobody rides on limits that were typed but are not stored. */
  const arm = useStoredStep(saver, () => steps.go('armed'));
  const { done, of, lacking } = preparedCount({ ...ride, preparation });
  const isShort =
    ride.fullVoltageV !== null &&
    preparation.startVoltageV !== null &&
    preparation.startVoltageV < NOT_FULL_SHARE * ride.fullVoltageV;
  const ofFull = (preparation.startVoltageV ?? NaN) / (ride.fullVoltageV ?? NaN);
  const isOdd = ofFull > MOST_OF_FULL || ofFull < LEAST_OF_FULL;
  const named = (list: readonly { id: string; name: string; archivedAt: string | null }[] | undefined) =>
    (list ?? []).filter(({ archivedAt }) => archivedAt === null).map(({ id, name }) => ({ value: id, label: name }));
  return (
    <section className="console-body">
      {ride.openClearance > 0 ? (
        <p className="console-stop" role="alert">
          Still to do on this setup: {countSafetyChecks(ride.openClearance)}. Nobody rides before they are passed or
          waived in writing: <Link to={`/bench/setups/${ride.setup.id}/clearance`}>go to its safety checks</Link>.
        </p>
      ) : null}
      {ride.course.cautions && <p className="caution">{ride.course.cautions}</p>}
      <ol className="console-list">
        <li>
          <Checkbox
            checked={preparation.isChargedAndRested}
            onChange={({ target }) => change({ isChargedAndRested: target.checked })}
          >
            {preparation.isPartWay ? 'Half an hour of rest, no load' : 'Charged full, then half an hour of rest'}
          </Checkbox>
        </li>
        <li>
          <label>
            Start voltage
            {ride.fullVoltageV !== null && <span className="quiet">, full is {ride.fullVoltageV.toFixed(1)} V</span>}
            <QuantityInput
              unit="V"
              value={preparation.startVoltageV}
              onChange={(startVoltageV) => change({ startVoltageV })}
            />
          </label>
          {isOdd && (
            <p className="caution">
              No voltage of this pack at rest: look at the comma, the charger and the pack of this setup before anyone
              rides.
            </p>
          )}
          {isShort && !isOdd && !preparation.isPartWay && (
            <p className="caution">Below full: a range ride from here is shorter. Keep charging, or note it.</p>
          )}
          {((isShort && !isOdd) || preparation.isPartWay) && (
            <>
              <Checkbox
                checked={preparation.isPartWay}
                onChange={({ target }) => change({ isPartWay: target.checked })}
              >
                Meant so: it uses part of a charge
              </Checkbox>
              {preparation.isPartWay && <p className="quiet">{PART_WAY_RULES}</p>}
            </>
          )}
          <div className="console-pair">
            <label>
              Bars lit
              <QuantityInput
                unit="level"
                value={preparation.gaugeStart}
                onChange={(gaugeStart) => change({ gaugeStart })}
              />
            </label>
            <label>
              of
              <QuantityInput
                unit="level"
                value={preparation.gaugeBars}
                onChange={(gaugeBars) => change({ gaugeBars })}
              />
            </label>
          </div>
          {preparation.gaugeStart !== null &&
            preparation.gaugeBars !== null &&
            preparation.gaugeStart > preparation.gaugeBars && (
              <p className="caution">More bars lit than there are: were the two exchanged?</p>
            )}
        </li>
        <li>
          <Checkbox
            checked={preparation.isClearanceConfirmed}
            onChange={({ target }) => change({ isClearanceConfirmed: target.checked })}
          >
            Checked again: nuts, torque arm, both brakes, cut-off, cables, battery strapped, helmet
          </Checkbox>
        </li>
        <li>
          <div className="console-pair">
            <label>
              Air
              <QuantityInput
                unit="°C"
                value={preparation.airTemperatureC}
                onChange={(airTemperatureC) => change({ airTemperatureC })}
              />
            </label>
            <label>
              Wind
              <QuantityInput unit="m/s" value={preparation.windMps} onChange={(windMps) => change({ windMps })} />
            </label>
            <label>
              from
              <QuantityInput
                unit="deg"
                value={preparation.windFromDeg}
                onChange={(windFromDeg) => change({ windFromDeg })}
              />
            </label>
            <label>
              Pressure, hPa
              <QuantityInput
                unit="level"
                value={preparation.airPressureHpa}
                onChange={(airPressureHpa) => change({ airPressureHpa })}
              />
            </label>
          </div>
        </li>
        <li>
          <label>
            Tyre pressure
            <QuantityInput
              unit="bar"
              bareAbove={PSI_ABOVE}
              value={preparation.tyrePressureBar}
              onChange={(tyrePressureBar) => change({ tyrePressureBar })}
            />
          </label>
        </li>
        <li>
          <Checkbox checked={preparation.isLevelSet} onChange={({ target }) => change({ isLevelSet: target.checked })}>
            Level {ride.level || 'as programmed'} set, display shows no error
          </Checkbox>
        </li>
        <li>
          <div className="console-pair">
            <label>
              Rider
              <Select
                size="large"
                allowClear
                value={ride.rider?.id ?? null}
                options={named(riders)}
                onChange={(riderId: string | undefined) => saver.change({ riderId: riderId ?? null })}
              />
            </label>
            <label>
              Logger
              <Select
                size="large"
                allowClear
                placeholder="None: read by hand"
                value={ride.logger?.id ?? null}
                options={named(loggers)}
                onChange={(loggerId: string | undefined) => saver.change({ loggerId: loggerId ?? null })}
              />
            </label>
          </div>
        </li>
      </ol>
      <LimitFields saver={saver} />
      <p className="quiet">
        {done} of {of} done{lacking.length > 0 && `; still to do: ${lacking.join(', ')}`}. Distance{' '}
        {ride.course.lengthM === null ? 'not known' : formatQuantity(ride.course.lengthM / 1000, 'km', system)}.
      </p>
      <div className="console-foot">
        <Button size="large" danger onClick={onAbort}>
          Abort
        </Button>
        <Button size="large" type="primary" loading={steps.isBusy || arm.isTaken} onClick={arm.take}>
          Ready to ride
        </Button>
      </div>
    </section>
  );
}

const LIMITS = [
  ['motorC', 'Hub or motor', '°C'],
  ['controllerC', 'Controller', '°C'],
  ['batteryC', 'Battery', '°C'],
  ['packV', 'Pack', 'V'],
] as const;

/** Where the console says stop: usual limits until the maker's own are typed in. */
function LimitFields({ saver }: { readonly saver: RideSaver }) {
  const limits = saver.values('limits');
  return (
    <details>
      <summary>Stop if it reaches</summary>
      <p className="quiet">Usual limits; use the maker’s own if you have them. Blank: no warning.</p>
      <div className="console-pair">
        {LIMITS.map(([key, label, unit]) => (
          <label key={key}>
            {label}
            <QuantityInput
              unit={unit}
              value={limits[key]}
              onChange={(value) => saver.change({ limits: { [key]: value } })}
            />
          </label>
        ))}
      </div>
    </details>
  );
}
