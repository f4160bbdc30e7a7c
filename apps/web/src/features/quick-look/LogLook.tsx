import { Said } from '../../shared/ui/SentenceText.js';
import { TEST_KIND_NAMES, TEST_KINDS, type TestKind } from '@ebrix/core/analysis';
import { Button, Select } from 'antd';
import { useState } from 'react';
import type { MappingDto, QuickLookLog } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { errorCode } from '../../shared/api/base-api.js';
import { formatQuantity } from '../../shared/format/format-quantity.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { FileDrop } from '../../shared/ui/FileDrop.js';
import { QuantityInput } from '../../shared/ui/QuantityInput.js';
import { cropStrip, StripRecorder, StripTable, TestCharts } from '../../shared/charts/index.js';
import { ColumnMapping, openQuestions, resolvedMapping } from '../../entities/log/index.js';
import { CleaningReport, Derivation, FigureStrip, FigureTable } from '../../entities/run/index.js';
import { useLogColumnsMutation, useLookAtLogMutation } from './api.js';

interface Known {
  readonly capacityAh: number | null;
  readonly nominalVoltageV: number | null;
  readonly airTemperatureC: number | null;
  readonly totalMassKg: number | null;
}

/** One log: its channels, its figures, what was cleaned. */
export function LogLook() {
  const [look, { data, error, isLoading }] = useLookAtLogMutation();
  const [readColumns, columns] = useLogColumnsMutation();
  const [file, setFile] = useState<File>();
  const [mapping, setMapping] = useState<MappingDto>();
  const [known, setKnown] = useState<Known>({
    capacityAh: null,
    nominalVoltageV: null,
    airTemperatureC: null,
    totalMassKg: null,
  });
  const [test, setTest] = useState<TestKind>('range');
  const start = async (chosen: File, resolved?: MappingDto): Promise<void> => {
    const facts = Object.fromEntries(
      Object.entries(known).filter(([, value]) => value !== null && !Number.isNaN(value)),
    );
    const result = await look({
      file: chosen,
      test,
      context: JSON.stringify({ ...facts, ...(resolved && { mapping: resolved }) }),
    });
    if (errorCode(result.error) !== 'mapping-needed') return;
    const columns = await readColumns(chosen);
    if ('data' in columns && columns.data) setMapping(columns.data.mapping);
  };
  const take = (chosen: File): void => {
    setFile(chosen);
    setMapping(undefined);
    void start(chosen);
  };
  const inspection = columns.data;
  const again = (): void => {
    if (file) void start(file, mapping && inspection ? resolvedMapping(inspection, mapping) : undefined);
  };
  const change = (name: keyof Known) => (value: number | null) => setKnown({ ...known, [name]: value });
  return (
    <>
      <FileDrop
        label="Choose a log"
        hint="or drop it here: CSV or GPX, plain or gzipped"
        accept=".csv,.txt,.tsv,.gpx,.gz,.log"
        isBusy={isLoading}
        onFiles={([first]) => first && take(first)}
      />
      <form
        className="actions"
        style={{ margin: '12px 0', alignItems: 'flex-end' }}
        onSubmit={(event) => {
          event.preventDefault();
          again();
        }}
      >
        <label className="stacked">
          Test
          <Select
            className="min-w-190"
            value={test}
            onChange={setTest}
            options={TEST_KIND_NAMES.map((value) => ({ value, label: TEST_KINDS[value].label }))}
          />
        </label>
        <label className="stacked">
          Pack capacity
          <QuantityInput unit="Ah" value={known.capacityAh} onChange={change('capacityAh')} />
        </label>
        <label className="stacked">
          Nominal voltage
          <QuantityInput unit="V" value={known.nominalVoltageV} onChange={change('nominalVoltageV')} />
        </label>
        <label className="stacked">
          Air temperature
          <QuantityInput unit="°C" value={known.airTemperatureC} onChange={change('airTemperatureC')} />
        </label>
        <label className="stacked">
          Total weight
          <QuantityInput unit="kg" value={known.totalMassKg} onChange={change('totalMassKg')} />
        </label>
        <Button htmlType="submit" disabled={!file}>
          Recalculate with these
        </Button>
      </form>
      {error !== undefined && <Problem error={error} />}
      {errorCode(error) === 'mapping-needed' && inspection && mapping && (
        <div className="sheet section">
          <ColumnMapping inspection={inspection} mapping={mapping} onChange={setMapping} />
          <div className="actions mt-12">
            <Button
              type="primary"
              loading={isLoading}
              disabled={openQuestions(inspection, mapping).some(({ blocking }) => blocking)}
              onClick={again}
            >
              Read it this way
            </Button>
          </div>
        </div>
      )}
      {data && !isLoading && error === undefined && <Result key={file?.name} fileName={file?.name ?? ''} look={data} />}
    </>
  );
}

function Result({ fileName, look }: { readonly fileName: string; readonly look: QuickLookLog }) {
  const [open, setOpen] = useState<string | null>(null);
  const [span, setShownSpan] = useState<{ fromS: number; toS: number }>();
  const figure = look.figures.find(({ key }) => key === open);
  const strip = span ? cropStrip(look.strip, span) : look.strip;
  return (
    <div className="section">
      <h2 className="break-anywhere mb-8">{fileName}</h2>
      <FigureStrip figures={look.figures} open={open} onOpen={setOpen} />
      {figure && (
        <div className="mt-14">
          <Derivation figure={figure} method={look.method} onClose={() => setOpen(null)} onShowSpan={setShownSpan} />
        </div>
      )}
      <div className="mt-16">
        <TestCharts charts={look.charts} />
      </div>
      <div className="mt-16">
        <StripRecorder strip={strip} cleaning={look.cleaning} onShowSpan={setShownSpan} spans={look.spans} />
        <StripTable strip={strip} />
      </div>
      <Found look={look} onShowSpan={setShownSpan} />
      <div className="split section">
        <div>
          <h2>All figures</h2>
          <FigureTable figures={look.figures} open={open} onOpen={setOpen} />
        </div>
        <aside>
          {look.warnings.length > 0 && (
            <>
              <h2>Notes</h2>
              <ul className="mt-6 mb-18 mx-0 pl-18">
                {look.warnings.map(({ code, message, said }) => (
                  <li key={code + message}>
                    <Said text={message} said={said} />
                  </li>
                ))}
              </ul>
            </>
          )}
          <h2 className="mb-6">Cleaning</h2>
          <CleaningReport report={look.cleaning} />
        </aside>
      </div>
    </div>
  );
}

/** What was found in the log: passes, coasts, levels; each leads to its part of the chart. */
function Found({
  look,
  onShowSpan,
}: {
  readonly look: QuickLookLog;
  readonly onShowSpan: (span: { fromS: number; toS: number }) => void;
}) {
  const system = useUnits();
  const { passes, levels, events } = look;
  if (passes.length + levels.length + events.length === 0) return null;
  const seconds = (value: number | null): string => (value === null ? '' : `${value.toFixed(2)} s`);
  const speed = (value: number): string => formatQuantity(value, 'km/h', system, 3);
  return (
    <section className="section">
      <h2>Found in the log</h2>
      <table className="rows max-w-640">
        <tbody>
          {passes.map(({ direction, startS, endS, steadySpeed }, k) => (
            <tr key={startS}>
              <td>
                <button
                  type="button"
                  className="figure-button"
                  onClick={() => onShowSpan({ fromS: startS, toS: endS })}
                >
                  {steadySpeed === null ? 'Coast' : 'Pass'} {k + 1}
                </button>
              </td>
              <td>{direction === 1 ? 'first direction' : 'reversed'}</td>
              <td className="number">{steadySpeed === null ? `${Math.round(endS - startS)} s` : speed(steadySpeed)}</td>
            </tr>
          ))}
          {events.map(({ startS, endS, latency, riseTime, overrun, brakeCutoff, time0to20, endsBy }, k) => (
            <tr key={`start ${startS}`}>
              <td>
                <button
                  type="button"
                  className="figure-button"
                  onClick={() => onShowSpan({ fromS: Math.max(0, startS - 1), toS: endS + 1 })}
                >
                  Start {k + 1}
                </button>
              </td>
              <td className="number">
                {/* Of what was only felt the delay is not known. */}
                {latency === null && time0to20 !== null
                  ? `${speed(20)} after ${seconds(time0to20)}`
                  : `assist after ${seconds(latency) || 'none'}`}
              </td>
              <td className="number">{riseTime !== null && `rises in ${seconds(riseTime)}`}</td>
              <td>
                {(latency !== null || endsBy !== 'end of the log') && endsBy}
                {overrun !== null && `, runs on ${seconds(overrun)}`}
                {brakeCutoff !== null && `, cut off in ${seconds(brakeCutoff)}`}
              </td>
            </tr>
          ))}
          {levels.map(({ level, steadySpeed, consumption, sameAs, startS, endS }) => (
            <tr key={`level ${level}`}>
              <td>
                <button
                  type="button"
                  className="figure-button"
                  onClick={() => onShowSpan({ fromS: startS, toS: endS })}
                >
                  Level {level}
                </button>
              </td>
              <td className="number">{speed(steadySpeed)}</td>
              <td className="number">{consumption !== null && formatQuantity(consumption, 'Wh/km', system, 3)}</td>
              <td>{sameAs.length > 0 && `same as level ${sameAs.join(', ')}`}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
