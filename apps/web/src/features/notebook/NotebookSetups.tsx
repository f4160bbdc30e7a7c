import { Input, InputNumber, Select } from 'antd';
import type { Setup } from '@ebrix/contract';
import { CHEMISTRY_NAMES, MOTOR_KINDS } from '../../entities/part/index.js';
import { readPack, type SetupChoice } from './notebook-state.js';

interface Props {
  readonly names: readonly string[];
  readonly setups: readonly Setup[];
  readonly choiceOf: (name: string) => SetupChoice;
  /** What counts as a full gauge of a setup; undefined: not said yet. */
  readonly barsOf: (name: string) => number | undefined;
  readonly isAsked: boolean;
  readonly onChoose: (name: string, choice: SetupChoice) => void;
}

/** Which setup is meant by each name; one that is not there yet is sketched with what its rides need. */
export function NotebookSetups({ names, setups, choiceOf, barsOf, isAsked, onChoose }: Props) {
  const options = [
    { value: '', label: 'A new setup' },
    ...setups
      .filter(({ archivedAt }) => archivedAt === null)
      .flatMap(({ name, revisions }) =>
        revisions.map(({ id, number }) => ({
          value: id,
          label: revisions.length > 1 ? `${name}, revision ${number}` : name,
        })),
      ),
  ];
  const hasNew = names.some((name) => choiceOf(name).revisionId === '');
  return (
    <section aria-label="Setups of these rides">
      <h2 className="mb-6">Setups of these rides</h2>
      <table className="rows">
        <thead>
          <tr>
            <th scope="col">In the notebook</th>
            <th scope="col">Is</th>
            <th scope="col">Bars when full</th>
            {hasNew && <th scope="col">Motor</th>}
            {hasNew && <th scope="col">Pack, V and Ah</th>}
            {hasNew && <th scope="col">Cells</th>}
          </tr>
        </thead>
        <tbody>
          {names.map((name) => {
            const choice = choiceOf(name);
            const isNew = choice.revisionId === '';
            const isWrong = isAsked && isNew && choice.pack.trim() !== '' && !readPack(choice.pack);
            return (
              <tr key={name.toLowerCase()}>
                <th scope="row" className="pair">
                  {name}
                </th>
                <td>
                  <Select
                    aria-label={`${name} is`}
                    className="w-300"
                    value={choice.revisionId}
                    options={options}
                    showSearch={{ optionFilterProp: 'label' }}
                    onChange={(revisionId) => onChoose(name, { ...choice, revisionId })}
                  />
                </td>
                <td>
                  <InputNumber
                    aria-label={`Bars of ${name} when full`}
                    className="w-90"
                    min={1}
                    max={100}
                    placeholder={String(barsOf(name) ?? '–')}
                    value={choice.bars}
                    onChange={(bars) => onChoose(name, { ...choice, bars })}
                  />
                </td>
                {isNew && (
                  <>
                    <td>
                      <Select
                        aria-label={`Motor of ${name}`}
                        className="w-210"
                        value={choice.motorKind}
                        options={[...MOTOR_KINDS]}
                        onChange={(motorKind: SetupChoice['motorKind']) => onChoose(name, { ...choice, motorKind })}
                      />
                    </td>
                    <td>
                      <Input
                        aria-label={`Pack of ${name}, V and Ah`}
                        placeholder="36 V 11 Ah"
                        status={isWrong ? 'error' : ''}
                        value={choice.pack}
                        onChange={({ target }) => onChoose(name, { ...choice, pack: target.value })}
                      />
                      {isWrong && <div className="quiet">Two numbers: volts and ampere-hours.</div>}
                    </td>
                    <td>
                      <Select
                        aria-label={`Cells of ${name}`}
                        className="w-210"
                        value={choice.chemistry}
                        options={[...CHEMISTRY_NAMES]}
                        onChange={(chemistry: SetupChoice['chemistry']) => onChoose(name, { ...choice, chemistry })}
                      />
                    </td>
                  </>
                )}
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="quiet mt-6">
        Bars and volts become Wh only with the pack’s volts and ampere-hours. All else about a new setup is asked on the
        bench: go through its checks before it is ridden again.
      </p>
    </section>
  );
}
