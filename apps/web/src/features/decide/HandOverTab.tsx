import { Button, Radio } from 'antd';
import { useState } from 'react';
import type { PackageLook } from '@ebrix/contract';
import { FileDrop } from '../../shared/ui/FileDrop.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { useDropPackageMutation, useLookAtPackageMutation, useTakePackageInMutation } from './api.js';
import { TakeAlong } from './TakeAlong.js';

/** Every byte out, and in again. */
export function HandOverTab() {
  return (
    <div className="grid gap-10 max-w-980">
      <TakeAlong />
      <BringIn />
    </div>
  );
}

function BringIn() {
  const [look, looking] = useLookAtPackageMutation();
  const [drop] = useDropPackageMutation();
  const [takeIn, taking] = useTakePackageInMutation();
  const { success } = useNotices();
  const [taken, setTaken] = useState<ReadonlySet<string>>(new Set());
  const found = looking.data;
  const clear = (): void => {
    looking.reset();
    taking.reset();
    setTaken(new Set());
  };
  const store = async (of: PackageLook): Promise<void> => {
    const take = of.differences.filter((one) => taken.has(idOf(one))).map(({ table, key }) => ({ table, key }));
    const { data } = await takeIn({ id: of.id, take });
    if (!data) return;
    success(`Taken in: ${data.added} added, ${data.changed} changed, ${data.kept} kept as they were here.`);
    clear();
  };
  return (
    <section className="section" aria-label="Take a package in">
      <h2 className="mb-8">Take a package in</h2>
      <p className="mb-8">
        It is checked from end to end first, and nothing here is changed unseen. All of it goes in, or nothing.
      </p>
      {!found && (
        <FileDrop
          label="Choose a data package"
          hint="or drop it here: a zip made by Ebrix"
          accept=".zip"
          isBusy={looking.isLoading}
          onFiles={([file]) => file && void look(file)}
        />
      )}
      {looking.error !== undefined && <Problem error={looking.error} />}
      {found && (
        <>
          <Brings look={found} />
          <Differences look={found} taken={taken} onTake={setTaken} />
          {taking.error !== undefined && <Problem error={taking.error} />}
          <div className="actions mt-12">
            <Button type="primary" loading={taking.isLoading} onClick={() => void store(found)}>
              Take it in
            </Button>
            <Button onClick={() => void drop(found.id).then(clear)}>Leave it</Button>
          </div>
        </>
      )}
    </section>
  );
}

function Brings({ look }: { readonly look: PackageLook }) {
  const rows = look.tables.filter(({ added, same, different }) => added + same + different > 0);
  const brings = rows.filter(({ added, different }) => added + different > 0);
  return (
    <>
      <p>
        {look.of === 'everything' ? 'Everything of an installation' : `Of ${look.of}`}, made on {look.made.slice(0, 10)}{' '}
        by version {look.version}.{brings.length === 0 && ' All of it is here already.'}
      </p>
      {brings.length > 0 && (
        <div className="scroll-x mt-8">
          <table className="rows">
            <thead>
              <tr>
                <th scope="col">What</th>
                <th scope="col">New here</th>
                <th scope="col">The same</th>
                <th scope="col">Different</th>
              </tr>
            </thead>
            <tbody>
              {brings.map(({ name, added, same, different }) => (
                <tr key={name}>
                  <td>{name.replaceAll('_', ' ')}</td>
                  <td className="figures">{added}</td>
                  <td className="figures">{same}</td>
                  <td className="figures">{different}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </>
  );
}

const idOf = ({ table, key }: { readonly table: string; readonly key: string }): string => `${table} ${key}`;

interface DifferencesProps {
  readonly look: PackageLook;
  readonly taken: ReadonlySet<string>;
  readonly onTake: (taken: ReadonlySet<string>) => void;
}
/** What both tell differently, side by side; here stays unless one says otherwise. */
function Differences({ look, taken, onTake }: DifferencesProps) {
  if (look.differences.length === 0) return null;
  return (
    <>
      <h3 className="mt-12 mb-8">Told differently here and there</h3>
      {look.moreDifferences > 0 && (
        <p className="quiet mb-8">
          The first {look.differences.length} are shown; {look.moreDifferences} more stay as they are here.
        </p>
      )}
      <ul className="must-haves differences">
        {look.differences.map((one) => (
          <li key={idOf(one)}>
            <div>
              <strong>{one.name}</strong> <span className="quiet">{one.table.replaceAll('_', ' ')}</span>
            </div>
            <table className="rows">
              <thead>
                <tr>
                  <th scope="col">Column</th>
                  <th scope="col">Here</th>
                  <th scope="col">In the package</th>
                </tr>
              </thead>
              <tbody>
                {one.columns.map(({ column, here, package: there }) => (
                  <tr key={column}>
                    <td>{column.replaceAll('_', ' ')}</td>
                    <td>{here ?? '–'}</td>
                    <td>{there ?? '–'}</td>
                  </tr>
                ))}
              </tbody>
            </table>
            <Radio.Group
              value={taken.has(idOf(one))}
              aria-label={`Which of ${one.name}`}
              onChange={({ target }) => {
                const next = new Set(taken);
                if (target.value as boolean) next.add(idOf(one));
                else next.delete(idOf(one));
                onTake(next);
              }}
              options={[
                { value: false, label: 'Keep what is here' },
                { value: true, label: 'Use the package’s' },
              ]}
            />
          </li>
        ))}
      </ul>
    </>
  );
}
