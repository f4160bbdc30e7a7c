import { driveSideTable, isConverted, isFrontHub, isHub, type DriveSideRow, type SetupFacts } from '@ebrix/core/bench';
import { Button, Input } from 'antd';
import { useMemo, useState } from 'react';
import { formatQuantity } from '../../shared/format/format-quantity.js';
import { useUnits } from '../../shared/preferences/index.js';
import { QuantityInput } from '../../shared/ui/QuantityInput.js';
import { SentenceText } from '../../shared/ui/SentenceText.js';
import { readNumbers } from './read-numbers.js';

const MOST_SPACERS = 6;
const ROWS = 12;
const STATES = { fits: 'Fits', unknown: 'Cannot tell', 'does-not': 'Does not fit' } as const;

interface Cogs {
  readonly name: string;
  readonly stackMm: number | null;
}

/** Freewheels or cassettes × spacers × washers, all tried at once with each clearance; nothing is stored. */
export function DriveSideTrial({ facts }: { readonly facts: SetupFacts }) {
  const [isOpen, setOpen] = useState(false);
  const isRearHub = isConverted(facts) && isHub(facts.kit) && !isFrontHub(facts.kit);
  if (!isRearHub) return null;
  if (!isOpen) return <Button onClick={() => setOpen(true)}>Try cogs, spacers and washers</Button>;
  return <Trial facts={facts} />;
}

function Trial({ facts }: { readonly facts: SetupFacts }) {
  const system = useUnits();
  const { bike, fit } = facts;
  const [cogs, setCogs] = useState<readonly Cogs[]>([{ name: 'As on the bike', stackMm: bike.cogStackMm }]);
  const [spacerMm, setSpacer] = useState<number | null>(fit.cogSpacerMm ?? 1);
  const [washers, setWashers] = useState(() =>
    [...new Set([0, 1, 2, 3, fit.washersRightMm ?? 0])].sort((a, b) => a - b).join(' '),
  );
  const [isAll, setAll] = useState(false);
  const washersRightMm = readNumbers(washers);
  const rows = useMemo(() => {
    const known = cogs.filter((one): one is Cogs & { stackMm: number } => (one.stackMm ?? Number.NaN) > 0);
    if (!isConverted(facts) || !washersRightMm || !(spacerMm! > 0) || known.length === 0) return undefined;
    return driveSideTable(facts, { cogs: known, spacerMm: spacerMm!, mostSpacers: MOST_SPACERS, washersRightMm });
    // The text stands for the numbers read from it.
    // oxlint-disable-next-line react/exhaustive-deps
  }, [facts, cogs, spacerMm, washers]);
  const change = (k: number, to: Partial<Cogs>): void =>
    setCogs(cogs.map((one, at) => (at === k ? { ...one, ...to } : one)));
  const at = (mm: number | null): string => (mm === null ? '–' : formatQuantity(mm, 'mm', system));
  const fitting = rows?.filter(({ state }) => state === 'fits').length ?? 0;
  return (
    <section aria-label="Cogs, spacers and washers" className="section">
      <h2 className="mb-6">Cogs, spacers and washers</h2>
      <p className="quiet mb-12">
        What each combination would leave for the chain, by the same checks. Nothing here is saved: put what you choose
        into the fit.
      </p>
      {cogs.map((one, k) => (
        <div key={k} className={'line-item of-2 mb-8'}>
          <label className="stacked">
            {k === 0 ? 'Freewheel or cassette' : <span className="unseen">Freewheel or cassette {k + 1}</span>}
            <Input value={one.name} maxLength={60} onChange={({ target }) => change(k, { name: target.value })} />
          </label>
          <label className="stacked">
            {k === 0 ? 'Width of its cogs' : <span className="unseen">Width of its cogs {k + 1}</span>}
            <QuantityInput unit="mm" value={one.stackMm} onChange={(stackMm) => change(k, { stackMm })} />
          </label>
          <Button
            disabled={cogs.length === 1}
            aria-label={`Remove ${one.name || 'this one'}`}
            onClick={() => setCogs(cogs.filter((_, at) => at !== k))}
          >
            Remove
          </Button>
        </div>
      ))}
      <div className="actions mb-12">
        <Button
          disabled={cogs.length >= 8}
          onClick={() => setCogs([...cogs, { name: `Candidate ${cogs.length + 1}`, stackMm: null }])}
        >
          Add another
        </Button>
      </div>
      <div className="field-grid mb-12">
        <label className="stacked">
          Thickness of one spacer
          <QuantityInput unit="mm" value={spacerMm} onChange={setSpacer} />
        </label>
        <label className="stacked">
          Washers on the right to try, mm
          <Input value={washers} maxLength={60} onChange={({ target }) => setWashers(target.value)} />
        </label>
      </div>
      {rows === undefined ? (
        <p className="quiet">
          Write the width of at least one stack of cogs, the thickness of a spacer, and washers such as 0 1 2 3.
        </p>
      ) : (
        <>
          <p className="mb-6">
            <strong>
              {fitting === 0
                ? 'None of these fits.'
                : `${fitting} of ${rows.length} combinations ${fitting === 1 ? 'fits' : 'fit'}.`}
            </strong>{' '}
            {fitting === 0 && 'The nearest ones come first.'}
          </p>
          <div className="scroll-x">
            <table className="rows" aria-label="Combinations">
              <thead>
                <tr>
                  <th scope="col">Cogs</th>
                  <th scope="col" className="number">
                    Spacers
                  </th>
                  <th scope="col" className="number">
                    Washers
                  </th>
                  <th scope="col">Verdict</th>
                  <th scope="col">Chain to motor</th>
                  <th scope="col">Chain to frame</th>
                  <th scope="col">Axle in the dropout</th>
                </tr>
              </thead>
              <tbody>
                {(isAll ? rows : rows.slice(0, ROWS)).map((row) => (
                  <tr key={`${row.cogs} ${row.spacers} ${row.washersRightMm}`}>
                    <td>{row.cogs}</td>
                    <td className="number">{row.spacers}</td>
                    <td className="number">{formatQuantity(row.washersRightMm, 'mm', system)}</td>
                    <td>{row.state === 'does-not' ? STATES[row.state] : <strong>{STATES[row.state]}</strong>}</td>
                    <Found found={row.toMotor} text={at(row.toMotorMm)} />
                    <Found found={row.toFrame} text={at(row.toFrameMm)} />
                    <Found
                      found={row.axle}
                      text={`${(row.spreadMm ?? 0) < 0 ? 'gap of' : 'spread by'} ${at(Math.abs(row.spreadMm ?? 0))}`}
                    />
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          {rows.length > ROWS && (
            <Button className="mt-10" onClick={() => setAll(!isAll)}>
              {isAll ? 'Only the nearest' : `All ${rows.length}`}
            </Button>
          )}
        </>
      )}
    </section>
  );
}

function Found({ found, text }: { readonly found: DriveSideRow['axle']; readonly text: string }) {
  if (found.state === 'needs')
    return <td className="quiet">needs: {found.needs.map(({ label }) => label).join(', ')}</td>;
  return (
    <td>
      {text}
      {found.state === 'failed' && (
        <>
          , <strong>does not do</strong>
          <div className="quiet">
            <SentenceText of={found.remedy} />
          </div>
        </>
      )}
    </td>
  );
}
