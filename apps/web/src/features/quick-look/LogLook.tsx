import { useState } from 'react';
import type { QuickLookLog } from '@ebrix/contract';
import { Problem } from '../../shared/ui/Answer.js';
import { FileDrop } from '../../shared/ui/FileDrop.js';
import { QuantityInput } from '../../shared/ui/QuantityInput.js';
import { StripRecorder, StripTable } from '../charts/index.js';
import { CleaningReport, Derivation, FigureStrip, FigureTable } from '../runs/index.js';
import { useLookAtLogMutation } from './api.js';
import { cropStrip } from './crop-strip.js';

interface Known {
  readonly capacityAh: number | null;
  readonly nominalVoltageV: number | null;
  readonly airTemperatureC: number | null;
}

/** One log: its channels, its figures, what was cleaned. */
export function LogLook() {
  const [look, { data, error, isLoading }] = useLookAtLogMutation();
  const [file, setFile] = useState<File>();
  const [known, setKnown] = useState<Known>({ capacityAh: null, nominalVoltageV: null, airTemperatureC: null });
  const start = (chosen: File, facts: Known): void => {
    setFile(chosen);
    const context = Object.fromEntries(Object.entries(facts).filter(([, value]) => value !== null && !Number.isNaN(value)));
    void look({ file: chosen, context: JSON.stringify(context) });
  };
  const change = (name: keyof Known) => (value: number | null) => setKnown({ ...known, [name]: value });
  return (
    <>
      <FileDrop label="Choose a log" hint="or drop it here: CSV of any kind or GPX, also gzipped" accept=".csv,.txt,.tsv,.gpx,.gz,.log" isBusy={isLoading} onFiles={([first]) => first && start(first, known)} />
      <form
        className="actions"
        style={{ margin: '12px 0', alignItems: 'flex-end' }}
        onSubmit={(event) => {
          event.preventDefault();
          if (file) start(file, known);
        }}
      >
        <label>
          Pack capacity
          <QuantityInput unit="Ah" value={known.capacityAh} onChange={change('capacityAh')} />
        </label>
        <label>
          Nominal voltage
          <QuantityInput unit="V" value={known.nominalVoltageV} onChange={change('nominalVoltageV')} />
        </label>
        <label>
          Air temperature
          <QuantityInput unit="°C" value={known.airTemperatureC} onChange={change('airTemperatureC')} />
        </label>
        <button type="submit" className="figure-button" style={{ fontFamily: 'inherit', padding: '6px 0' }} disabled={!file}>
          Work it out with these
        </button>
      </form>
      {error !== undefined && <Problem error={error} />}
      {data && !isLoading && error === undefined && <Result key={file?.name} fileName={file?.name ?? ''} look={data} />}
    </>
  );
}

function Result({ fileName, look }: { readonly fileName: string; readonly look: QuickLookLog }) {
  const [open, setOpen] = useState<string | null>(null);
  const [stretch, setStretch] = useState<{ fromS: number; toS: number }>();
  const figure = look.figures.find(({ key }) => key === open);
  const strip = stretch ? cropStrip(look.strip, stretch) : look.strip;
  return (
    <div className="section">
      <h2 style={{ overflowWrap: 'anywhere', marginBottom: 8 }}>{fileName}</h2>
      <FigureStrip figures={look.figures} open={open} onOpen={setOpen} />
      {figure && (
        <div style={{ marginTop: 14 }}>
          <Derivation figure={figure} method={look.method} onClose={() => setOpen(null)} onStretch={setStretch} />
        </div>
      )}
      <div style={{ marginTop: 16 }}>
        <StripRecorder strip={strip} cleaning={look.cleaning} onStretch={setStretch} />
        <StripTable strip={strip} />
      </div>
      <div className="split section">
        <div>
          <h2>All figures</h2>
          <FigureTable figures={look.figures} open={open} onOpen={setOpen} />
        </div>
        <aside>
          {look.warnings.length > 0 && (
            <>
              <h2>To be noted</h2>
              <ul style={{ margin: '6px 0 18px', paddingLeft: 18 }}>
                {look.warnings.map(({ code, message }) => (
                  <li key={code + message}>{message}</li>
                ))}
              </ul>
            </>
          )}
          <h2 style={{ marginBottom: 6 }}>Cleaning</h2>
          <CleaningReport report={look.cleaning} />
        </aside>
      </div>
    </div>
  );
}
