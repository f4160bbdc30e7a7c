import type { CarriedRide } from '../store/carried-ride.js';
import { NumberField } from './NumberField.js';
import type { PhoneApp } from './phone-app.js';

/** What is checked and read before the run, in the order of the hands. */
export function Preparing({
  app,
  ride: { id, planned, preparation, riderId, feels = false, isPractice = false, wasLed = false },
}: {
  readonly app: PhoneApp;
  readonly ride: CarriedRide;
}) {
  const change = (by: Partial<CarriedRide['preparation']>): void =>
    void app.change(id, { preparation: { ...preparation, ...by } });
  const tick = (key: 'isChargedAndRested' | 'isClearanceConfirmed' | 'isLevelSet', label: string) => (
    <label className="along-tick">
      <input type="checkbox" checked={preparation[key]} onChange={({ target }) => change({ [key]: target.checked })} />
      {label}
    </label>
  );
  const riders = app.state().outings.flatMap(({ bundle }) => bundle.riders);
  return (
    <section className="along-form">
      {planned.openClearance > 0 && (
        <p className="along-alarm" role="alert">
          Safety checks of this setup were still to do when it was taken along: {planned.openClearance}. Nobody rides
          before they are passed. Pass them in Ebrix and take the outing along again.
        </p>
      )}
      {planned.course.cautions && <p className="caution">{planned.course.cautions}</p>}
      {tick(
        'isChargedAndRested',
        preparation.isPartWay ? 'Half an hour of rest, no load' : 'Charged full, then half an hour of rest',
      )}
      {tick(
        'isClearanceConfirmed',
        'Checked again: nuts, torque arm, both brakes, cut-off, cables, battery strapped, helmet',
      )}
      {tick('isLevelSet', `Level ${planned.level || 'as programmed'} set, display shows no error`)}
      <label className="along-tick">
        <input
          type="checkbox"
          checked={feels}
          onChange={({ target }) => void app.change(id, { feels: target.checked })}
        />
        Write down what the phone feels: pushes, braking, shaking. Mount it firmly, any way round.
      </label>
      <div className="along-pair">
        <NumberField
          label={`Start voltage${planned.fullVoltageV === null ? '' : ` (full ${planned.fullVoltageV.toFixed(1)})`}`}
          unit="V"
          value={preparation.startVoltageV}
          onChange={(startVoltageV) => change({ startVoltageV })}
        />
        <NumberField
          label="Tyres"
          unit="bar"
          value={preparation.tyrePressureBar}
          onChange={(tyrePressureBar) => change({ tyrePressureBar })}
        />
        <NumberField
          label="Bars lit"
          value={preparation.gaugeStart}
          onChange={(gaugeStart) => change({ gaugeStart })}
        />
        <NumberField label="of" value={preparation.gaugeBars} onChange={(gaugeBars) => change({ gaugeBars })} />
        <NumberField
          label="Air"
          unit="°C"
          value={preparation.airTemperatureC}
          onChange={(airTemperatureC) => change({ airTemperatureC })}
        />
        <NumberField label="Wind" unit="m/s" value={preparation.windMps} onChange={(windMps) => change({ windMps })} />
      </div>
      <label className="along-tick">
        <input
          type="checkbox"
          checked={isPractice}
          disabled={wasLed}
          onChange={({ target }) => void app.change(id, { isPractice: target.checked })}
        />
        Practise at the table: a simulated bike rides the course, nothing of it is sent
      </label>
      {riders.length > 0 && (
        <label>
          Rider
          <select
            value={riderId ?? ''}
            onChange={({ target }) => void app.change(id, { riderId: target.value || null })}
          >
            <option value="">not said</option>
            {[...new Map(riders.map((rider) => [rider.id, rider.name]))].map(([rider, name]) => (
              <option key={rider} value={rider}>
                {name}
              </option>
            ))}
          </select>
        </label>
      )}
    </section>
  );
}
