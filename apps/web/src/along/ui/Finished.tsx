import type { UnitName } from '@ebrix/core/units';
import type { CarriedRide } from '../store/carried-ride.js';
import { NumberField } from './NumberField.js';
import type { PhoneApp } from './phone-app.js';
import { Photos } from './Photos.js';
import { clockWords } from './words.js';

/** What the display and the gauge say once the run is over. */
export function Finished({ app, ride }: { readonly app: PhoneApp; readonly ride: CarriedRide }) {
  const { after } = ride;
  const change = (by: Partial<CarriedRide['after']>): void => void app.change(ride.id, { after: { ...after, ...by } });
  const field = (
    key: 'displayMeanKmh' | 'endVoltageV' | 'gaugeEnd' | 'perceivedEffort' | 'tripDistanceKm' | 'wallEnergyWh',
    label: string,
    unit?: UnitName,
  ) => (
    <NumberField
      label={label}
      {...(unit && { unit })}
      value={after[key]}
      onChange={(value) => change({ [key]: value })}
    />
  );
  const seconds =
    ride.startedAt && ride.finishedAt ? (Date.parse(ride.finishedAt) - Date.parse(ride.startedAt)) / 1000 : 0;
  return (
    <section className="along-form">
      <p>
        Ran for <strong className="figures">{clockWords(seconds)}</strong>.
      </p>
      <div className="along-pair">
        {field('tripDistanceKm', 'Trip distance', 'km')}
        {field('displayMeanKmh', 'Average on display', 'km/h')}
        {field('gaugeEnd', 'Bars left')}
        {field('endVoltageV', 'Voltage after rest', 'V')}
        {field('wallEnergyWh', 'Socket energy to refill', 'Wh')}
        {field('perceivedEffort', 'Felt, 0 to 10')}
      </div>
      <label className="along-tick">
        <input
          type="checkbox"
          checked={after.isEmptied}
          onChange={({ target }) => change({ isEmptied: target.checked })}
        />
        Ridden until the pack was empty
      </label>
      <Photos app={app} ride={ride} />
      <label>
        Notes
        <textarea
          rows={2}
          value={after.notes}
          maxLength={2000}
          onChange={({ target }) => change({ notes: target.value })}
        />
      </label>
    </section>
  );
}
