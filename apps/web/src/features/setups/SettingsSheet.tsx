import { formatQuantity, plain } from '../../shared/format/format-quantity.js';
import type { SetupDetail } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { partValueText } from '../../entities/part/index.js';
import { SETTING_FIELDS, type SetupField } from './setup-fields.js';

/** What was programmed, so that it can be programmed again. */
export function SettingsSheet({
  setup,
  isPrinted = false,
}: {
  readonly setup: SetupDetail;
  readonly isPrinted?: boolean;
}) {
  const system = useUnits();
  const { settings, parts } = setup.revisions[0]!;
  const all = settings as unknown as Record<string, unknown>;
  const isNoted = ({ name }: SetupField): boolean => all[name] !== null && all[name] !== undefined && all[name] !== '';
  const open = SETTING_FIELDS.filter((field) => !isNoted(field));
  const share = (value: number | null): string => (value === null ? '–' : `${plain(value * 100, 3)} %`);
  return (
    <div className="max-w-760 grid gap-14">
      <table className="rows">
        <tbody>
          {SETTING_FIELDS.filter(isNoted).map((field) => (
            <tr key={field.name}>
              <th scope="row" className="pair">
                {field.label}
              </th>
              <td className="number">{partValueText(field, all[field.name], system)}</td>
            </tr>
          ))}
          <tr>
            <th scope="row" className="pair">
              Display
            </th>
            <td className="align-right">{parts.kit?.display || '–'}</td>
          </tr>
        </tbody>
      </table>
      {open.length > 0 && (
        <p className="quiet">Not noted: {open.map(({ label }) => label.toLowerCase()).join(', ')}.</p>
      )}
      {settings.levels.length > 0 && (
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">Level</th>
              <th scope="col" className="number">
                Up to
              </th>
              <th scope="col" className="number">
                Pedal share
              </th>
              <th scope="col" className="number">
                Throttle share
              </th>
            </tr>
          </thead>
          <tbody>
            {settings.levels.map((level) => (
              <tr key={level.name}>
                <td className="figures">{level.name}</td>
                <td className="number">
                  {level.speedCapKmh === null ? '–' : formatQuantity(level.speedCapKmh, 'km/h', system)}
                </td>
                <td className="number">{share(level.pedalShare)}</td>
                <td className="number">{share(level.throttleShare)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {settings.note && <p>{settings.note}</p>}
      {!isPrinted && (
        <>
          <p className="quiet">Check your local rules for speed, power and throttle.</p>
          <div className="actions">
            <LinkButton isMain to={`/bench/setups/${setup.id}/edit`} label="Change settings" />
            <LinkButton to={`/bench/setups/${setup.id}/toolbox`} label="Print for the toolbox" />
          </div>
        </>
      )}
    </div>
  );
}
