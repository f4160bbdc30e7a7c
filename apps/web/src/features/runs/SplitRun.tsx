import { Button } from 'antd';
import { useEffect, useState } from 'react';
import type { RunDetail } from '@ebrix/contract';
import { Problem } from '../../shared/ui/QueryView.js';
import {
  confirmedParts,
  PartsTable,
  toProposedParts,
  useProposeRunSplitMutation,
  useSplitRunMutation,
  type ProposedPart,
} from '../../entities/run/index.js';

interface Props {
  readonly run: RunDetail;
  readonly onDone: (runIds: readonly string[]) => void;
  readonly onCancel: () => void;
}

/** One run that turns out to be several: proposed, changed, confirmed in one go. */
export function SplitRun({ run, onDone, onCancel }: Props) {
  const [propose, { data, error }] = useProposeRunSplitMutation();
  const [split, splitting] = useSplitRunMutation();
  const [changed, setChanged] = useState<readonly ProposedPart[]>();
  useEffect(() => void propose({ id: run.id }), [propose, run.id]);
  if (error !== undefined) return <Problem error={error} />;
  if (!data) return <p className="quiet">Looking for stops, gaps and gates …</p>;
  const parts = changed ?? toProposedParts(data);
  const confirmed = confirmedParts(parts, run.course.id);
  const store = async (): Promise<void> => {
    const result = await split({ id: run.id, version: run.version, parts: confirmed });
    if (result.data) onDone(result.data.runIds);
  };
  return (
    <section className="sheet section" aria-label="Split this run">
      <h2>Split this run</h2>
      <p className="quiet mb-8">
        Each part becomes a run of its own, with the same outing, rider and logger. This run is deleted, and can be
        brought back. What was read by hand stays with it.
      </p>
      <PartsTable strip={data.strip} parts={parts} onParts={setChanged} />
      {splitting.error !== undefined && <Problem error={splitting.error} />}
      <div className="actions mt-10">
        <Button
          type="primary"
          disabled={confirmed.length === 0}
          loading={splitting.isLoading}
          onClick={() => void store()}
        >
          {confirmed.length === 1 ? 'Keep only this part' : `Make ${confirmed.length} runs`}
        </Button>
        <Button onClick={onCancel}>Cancel</Button>
      </div>
    </section>
  );
}
