import { warrantyEnds } from '@ebrix/core/bench';
import { formatDay, formatQuantity } from '../../shared/format/format-quantity.js';
import { useUnits } from '../../shared/preferences/index.js';
import { useGetFittingRecordQuery } from './api.js';
import { connectorText } from './record-lines.js';

/** What whoever opens the bike next has to know: joints, codes, fluid, warranty. Nothing where nothing was noted. */
export default function ToolboxRecord({ setupId }: { readonly setupId: string }) {
  const { currentData } = useGetFittingRecordQuery(setupId);
  const system = useUnits();
  if (!currentData) return null;
  const { connectors, errors, cooling, seller, ...record } = currentData.record;
  const ends = warrantyEnds(record);
  return (
    <>
      {connectors.length > 0 && (
        <section aria-label="Connectors">
          <h2 className="mt-16">Connectors</h2>
          <ul className="m-0 pl-18">
            {connectors.map((line, k) => (
              <li key={k}>{connectorText(line)}</li>
            ))}
          </ul>
        </section>
      )}
      {errors.length > 0 && (
        <section aria-label="Error codes">
          <h2 className="mt-16">Error codes seen</h2>
          <ul className="m-0 pl-18">
            {errors.map(({ code, isAfterVoltageStep, meaning, cure }, k) => (
              <li key={k}>
                <strong>{code}</strong>
                {isAfterVoltageStep && ' after a step up in voltage'}
                {meaning && `: ${meaning}`}
                {cure && ` – ${cure}`}
              </li>
            ))}
          </ul>
        </section>
      )}
      {cooling && (
        <p className="mt-10">
          {cooling.fluid || 'Cooling fluid'} in the motor
          {cooling.doseMl !== null && `, ${cooling.doseMl} ml`}
          {cooling.drillStopMm !== null && `, hole ${formatQuantity(cooling.drillStopMm, 'mm', system)} deep`}
          {cooling.sealedWith && `, sealed with ${cooling.sealedWith}`}.
        </p>
      )}
      {ends !== null && (
        <p className="mt-10">
          Warranty until {formatDay(ends)}
          {seller && `, ${seller}`}.
        </p>
      )}
    </>
  );
}
