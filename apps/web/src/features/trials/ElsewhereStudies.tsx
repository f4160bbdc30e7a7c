import { Button } from 'antd';
import type { Elsewhere, Trial } from '@ebrix/contract';
import { SetupMark } from '../../shared/ui/SetupMark.js';
import { LateFold } from '../../shared/ui/LateFold.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { useGetElsewhereQuery, useRemoveElsewhereMutation } from './elsewhere-api.js';
import { elsewhereForm } from './forms.js';
import { RatioForest, type ForestRow } from './RatioForest.js';

/** What other testers found of the same pairs: beside the own runs, never among them. */
export function ElsewhereStudies({ trial }: { readonly trial: Trial }) {
  const { currentData: pairs } = useGetElsewhereQuery(trial.id);
  if (!pairs || pairs.length === 0) return null;
  const told = pairs.filter(({ studies }) => studies.length > 0);
  return (
    <details open={told.length > 0} className="elsewhere">
      <summary className="quiet">
        {told.length === 0
          ? 'What other testers found'
          : `What other testers found, of ${told.length === 1 ? 'one pair' : `${told.length} pairs`}`}
      </summary>
      <p className="quiet mt-6 mb-6 max-w-760">
        Their runs are not mixed into yours. Put together, each counts by how well it is known and by how much testers
        differ.
      </p>
      {told.map((pair) => (
        <Pair key={`${pair.a} ${pair.b}`} pair={pair} />
      ))}
      <LateFold className="mt-12" summary="Add what another tester found" bring={elsewhereForm.bring}>
        <elsewhereForm.Part trial={trial} />
      </LateFold>
    </details>
  );
}

function Pair({ pair }: { readonly pair: Elsewhere[number] }) {
  const { a, b, aName, bName, own, studies, pooled } = pair;
  const [remove] = useRemoveElsewhereMutation();
  const { failure } = useNotices();
  const weightOf = (k: number): number | null => pooled?.weights[k] ?? null;
  const offset = own ? 1 : 0;
  const rows: ForestRow[] = [
    ...(own ? [{ name: 'Here', ...own, weight: weightOf(0) }] : []),
    ...studies.map(({ tester, runs, ratio, lower, upper }, k) => ({
      name: runs === null ? tester : `${tester}, ${runs} runs`,
      ratio,
      lower,
      upper,
      weight: weightOf(k + offset),
    })),
  ];
  return (
    <section aria-label={`${aName} against ${bName}`} className="mt-12">
      <h3 className="inline-flex gap-8 items-center">
        <SetupMark letter={a} label={aName} /> against <SetupMark letter={b} label={bName} />
      </h3>
      <RatioForest rows={rows} pooled={pooled} />
      {pooled && <p className="mt-6">{pooled.words}</p>}
      <ul className="turns mt-6">
        {studies.map(({ id, tester, note }) => (
          <li key={id} className="study-line">
            <span>
              {tester}
              {note && `: ${note}`}
            </span>
            <Button size="small" aria-label={`Remove ${tester}`} onClick={() => void remove(id).then(failure)}>
              Remove
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
