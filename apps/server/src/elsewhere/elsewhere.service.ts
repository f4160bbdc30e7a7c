import { Injectable } from '@nestjs/common';
import { rm } from 'node:fs/promises';
import { plainRatio, poolRatios, type RatioStudy } from '@ebrix/core/compare';
import { pairsOf } from '@ebrix/core/statistics';
import {
  foundElsewhereSchema,
  type Elsewhere,
  type ElsewhereInput,
  type FoundElsewhere,
  type Trial,
} from '@ebrix/contract';
import { DomainError, notFound } from '../common/domain-error.js';
import { PackageReader, refuse } from '../data-package/package-reader.js';
import { TrialService } from '../trials/trial.service.js';
import { ElsewhereRepository, type StoredStudy } from './elsewhere.repository.js';

const VERDICTS = 'derived/verdicts.csv';

/** Sets what other testers found beside a trial's own answer. Their runs stay theirs. */
@Injectable()
export class ElsewhereService {
  constructor(
    private readonly studies: ElsewhereRepository,
    private readonly trials: TrialService,
  ) {}

  async ofTrial(trialId: string): Promise<Elsewhere> {
    const trial = await this.trials.get(trialId);
    const [stored, compared] = await Promise.all([this.studies.ofTrial(trialId), this.trials.comparisonOf(trialId)]);
    const comparison = compared?.comparison;
    const nameOf = (k: number): string => comparison?.setups[k]?.name ?? trial.setups[k]!.name;
    return pairsOf(trial.setups.length).map(([first, second]): Elsewhere[number] => {
      const [a, b] = [trial.setups[first]!, trial.setups[second]!];
      const [aName, bName] = [nameOf(first), nameOf(second)];
      const found = comparison?.pairs.find((pair) => pair.a === aName && pair.b === bName)?.ratio;
      const plain = found ? plainRatio(found) : null;
      const own = plain && { ratio: plain.ratio, lower: plain.lower, upper: plain.upper };
      const studies = stored.flatMap((study) => ofPair(study, a, b));
      const all: RatioStudy[] = [
        ...(plain ? [{ name: 'own', ...plain }] : []),
        ...studies.map((one) => ({ ...one, name: one.tester })),
      ];
      return { a: a.letter, b: b.letter, aName, bName, own, studies, pooled: pooledOf(all) };
    });
  }

  async add(trialId: string, { tester, a, b, ...rest }: ElsewhereInput): Promise<Elsewhere> {
    const trial = await this.trials.get(trialId);
    const [first, second] = [a, b].map((letter) => trial.setups.find((setup) => setup.letter === letter));
    if (!first || !second) throw new DomainError('invalid-request', 'The trial has no such setup.');
    if (first.revisionId === second.revisionId)
      throw new DomainError(
        'invalid-request',
        'Both are the same setup, ridden in two ways: that pair cannot be told apart here.',
      );
    await this.studies.insert(trialId, {
      tester,
      a_revision_id: first.revisionId,
      b_revision_id: second.revisionId,
      ...rest,
    });
    return this.ofTrial(trialId);
  }

  async remove(id: string): Promise<void> {
    if ((await this.studies.delete(id)) === 0) throw notFound('This study');
  }

  /** What a package says of its trials; it is checked like one that is to be taken in. Fails: `cannot-read`. */
  async read(path: string): Promise<FoundElsewhere[]> {
    try {
      const reader = await PackageReader.open(path);
      try {
        const resource = reader.descriptor.resources.find((one) => one.path === VERDICTS);
        if (!resource) throw refuse('The package says nothing of verdicts.');
        const found: FoundElsewhere[] = [];
        for await (const { cells } of reader.rows(resource)) {
          const plain = plainOf(cells);
          const read = foundElsewhereSchema.safeParse({
            question: cells['question'],
            figure: cells['figure'],
            a: cells['a'],
            b: cells['b'],
            ...plain,
            runs: numberOf(cells['runs']) ?? null,
          });
          if (read.success) found.push(read.data);
        }
        return found;
      } finally {
        reader.close();
      }
    } finally {
      await rm(path, { force: true });
    }
  }
}

/** The ratio of a row of verdicts with a plain interval; nothing where the row has none. */
function plainOf(
  cells: Readonly<Record<string, string>>,
): Pick<FoundElsewhere, 'lower' | 'ratio' | 'upper'> | undefined {
  const estimate = numberOf(cells['ratio']);
  const logStandardError = numberOf(cells['log_standard_error']);
  const degreesOfFreedom = numberOf(cells['ratio_df']);
  if (!(estimate! > 0) || !(logStandardError! > 0) || !(degreesOfFreedom! > 0)) return undefined;
  const { ratio, lower, upper } = plainRatio({
    estimate: estimate!,
    logStandardError: logStandardError!,
    degreesOfFreedom: degreesOfFreedom!,
  });
  return { ratio, lower, upper };
}

function numberOf(text: string | undefined): number | undefined {
  return text === undefined || text === '' ? undefined : Number(text);
}

function pooledOf(studies: readonly RatioStudy[]): Elsewhere[number]['pooled'] {
  const pooled = poolRatios(studies);
  return pooled && { ...pooled, weights: [...pooled.weights] };
}

/** A study of this pair, turned over where it was told the other way round. */
function ofPair(
  { id, tester, ratio, lower, upper, runs, note, a_revision_id: one, b_revision_id: other }: StoredStudy,
  a: Trial['setups'][number],
  b: Trial['setups'][number],
): Elsewhere[number]['studies'][number][] {
  if (one === a.revisionId && other === b.revisionId) return [{ id, tester, ratio, lower, upper, runs, note }];
  if (one !== b.revisionId || other !== a.revisionId) return [];
  return [{ id, tester, ratio: 1 / ratio, lower: 1 / upper, upper: 1 / lower, runs, note }];
}
