import { useUnits } from '../../shared/preferences/index.js';
import { formatDay, formatQuantity } from '../../shared/format/format-quantity.js';
import { outingForm, useListOutingsQuery } from '../../entities/outing/index.js';
import { useOpened } from '../../shared/ui/piece.js';

/** The weather of a run's outing; correcting it works all its runs out again. */
export function OutingLine({ outingId }: { readonly outingId: string }) {
  const system = useUnits();
  const correcting = useOpened(outingForm);
  const { data: outings } = useListOutingsQuery();
  const outing = outings?.find(({ id }) => id === outingId);
  if (!outing) return null;
  const { airTemperatureC, windMps, relativeHumidity } = outing;
  const weather = [
    airTemperatureC !== null && formatQuantity(airTemperatureC, '°C', system),
    windMps !== null && `wind ${formatQuantity(windMps, 'm/s', system, 2)}`,
    relativeHumidity !== null && `humidity ${Math.round(relativeHumidity * 100)} %`,
  ].filter(Boolean);
  return (
    <p className="mt-6">
      {formatDay(outing.date)}
      {outing.title && `, ${outing.title}`}: {weather.length > 0 ? weather.join(', ') : 'no weather noted'}.{' '}
      <button
        type="button"
        className="figure-button font-inherit"

        onClick={() => void correcting.open(true)}
      >
        Edit outing
      </button>
      {correcting.value && <outingForm.Part outing={outing} onDone={correcting.close} />}
    </p>
  );
}
