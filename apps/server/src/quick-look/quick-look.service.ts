import { Injectable } from '@nestjs/common';
import { CoreError } from '@ebrix/core/errors';
import { factsOfTest, type Scenario } from '@ebrix/core/forecast';
import { LogProblemError, sanitiseFileName, type LogMapping } from '@ebrix/core/logs';
import type { TestKind, TestContext } from '@ebrix/core/analysis';
import type {
  ForecastAnswer,
  Inspection,
  QuickLookContext,
  QuickLookForecastRequest,
  QuickLookLog,
  QuickLookTable,
  QuickLookTableFields,
} from '@ebrix/contract';
import { DomainError } from '../common/domain-error.js';
import type { UploadedLog } from '../common/uploads.js';
import { isoOfEpoch, withoutNulls } from '../common/row.js';
import { JobPool, PagePool } from '../compute/compute-pool.js';

const RESAMPLES = 10_000;

/** Figures and comparisons of files that are not kept. */
@Injectable()
export class QuickLookService {
  constructor(
    private readonly pool: PagePool,
    private readonly jobs: JobPool,
  ) {}

  async log(bytes: Uint8Array, test: TestKind, context: QuickLookContext): Promise<QuickLookLog> {
    const outcome = await this.pool.run('quickLook', {
      bytes,
      mapping: (context.mapping ?? null) as LogMapping | null,
      context: toTestContext(context),
      test,
    });
    if (!outcome.ok) throw new LogProblemError(outcome.problem);
    return outcome.value;
  }

  async forecast(
    files: readonly UploadedLog[],
    { runs, known, scenario, seed }: QuickLookForecastRequest,
  ): Promise<ForecastAnswer> {
    const rides = runs.map(({ file, test, ...facts }) => {
      const found = files.find(({ fileName }) => fileName === sanitiseFileName(file));
      if (!found)
        throw new DomainError(
          'invalid-request',
          `The ride “${file}” is in the request, but no file of that name came with it. Sent were: ${files.map(({ fileName }) => fileName).join(', ') || 'none'}.`,
        );
      return {
        bytes: found.bytes,
        mapping: null,
        facts: { name: file, ...factsOfTest(test), ...withoutNulls(facts), totalMassKg: facts.totalMassKg },
      };
    });
    const { cdaM2, crr, ...same } = known;
    const outcome = await this.jobs.run('forecastRides', {
      rides,
      request: {
        known: withoutNulls({ ...same, dragAreaM2: cdaM2, rolling: crr }),
        scenario: scenario as Scenario,
        seed,
      },
    });
    if (!outcome.ok) throw new LogProblemError(outcome.problem);
    if (!outcome.value.ok) throw new CoreError(outcome.value.code, outcome.value.message);
    return outcome.value.value;
  }

  /** What the columns were taken for, for a file that must be asked about. */
  async inspect(bytes: Uint8Array): Promise<Inspection> {
    const outcome = await this.pool.run('inspect', { bytes });
    if (!outcome.ok) throw new LogProblemError(outcome.problem);
    const { signature: _signature, delimiter, startEpochS, ...rest } = outcome.value;
    return { ...rest, startedAt: isoOfEpoch(startEpochS), delimiter: delimiter ?? null, profile: null };
  }

  async table(bytes: Uint8Array, fields: QuickLookTableFields): Promise<QuickLookTable> {
    const { setup, value, block, covariate, group, smallestDifference, better, seed, design } = fields;
    const number = Number.parseFloat(smallestDifference.replace(',', '.'));
    const outcome = await this.pool.run('table', {
      bytes,
      columns: { setup, value, ...withoutNulls({ block, covariate, group }) },
      smallestDifference: smallestDifference.endsWith('%')
        ? { kind: 'relative', value: number / 100 }
        : { kind: 'absolute', value: number },
      better,
      seed,
      resamples: RESAMPLES,
      ...(design && { design }),
    });
    if (!outcome.ok) throw new LogProblemError(outcome.problem);
    if (!outcome.value.ok) throw new CoreError(outcome.value.code, outcome.value.message);
    return outcome.value.value;
  }

  async tableColumns(bytes: Uint8Array): Promise<{ columns: readonly string[]; rows: number }> {
    const outcome = await this.pool.run('tableColumns', { bytes });
    if (!outcome.ok) throw new LogProblemError(outcome.problem);
    return outcome.value;
  }
}

function toTestContext({
  windMps,
  capacityAh,
  nominalVoltageV,
  usableShare,
  mapping: _mapping,
  ...rest
}: QuickLookContext): TestContext {
  const { airTemperatureC, airDensity, totalMassKg, cdaM2, crr, rotatingMassFactor, ambientC, temperatureLimitC } =
    rest;
  const { directions, gates, assistLimitKmh, sensorDelayS } = rest;
  return {
    ...withoutNulls({
      airTemperatureC: airTemperatureC ?? ambientC,
      airDensity,
      totalMassKg,
      cdaM2,
      crr,
      rotatingMassFactor,
      windMps,
      ambientC,
      temperatureLimitC,
      assistLimitKmh,
      sensorDelayS,
      directions,
    }),
    ...(gates && {
      course: {
        lengthM: gates.finishDistanceM,
        startM: gates.startDistanceM,
        finishM: gates.finishDistanceM,
        isWhole: false,
        isLoop: false,
      },
    }),
    pack: withoutNulls({ capacityAh, nominalVoltageV, usableShare }),
  };
}
