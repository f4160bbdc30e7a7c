import { Injectable } from '@nestjs/common';
import type { TestContext } from '@ebrix/core/tests';
import type { Part, RunAssignment } from '@ebrix/contract';
import { PartsRepository } from '../bench/parts.repository.js';
import { notFound } from '../common/domain-error.js';
import { withoutNulls } from '../common/row.js';
import { OutingRepository } from '../outings/outing.repository.js';
import { SetupRepository, type RevisionParts } from '../setups/setup.repository.js';

/** What is known about a run beside its log: parts as they were, rider, logger, weather. */
@Injectable()
export class RunContextService {
  constructor(
    private readonly setups: SetupRepository,
    private readonly parts: PartsRepository,
    private readonly outings: OutingRepository,
  ) {}

  async contextOf(assignment: RunAssignment): Promise<TestContext> {
    const { setupRevisionId, outingId, riderId, loggerId, totalMassKg, emptied, gauge, ruleOfThumbWhPerKm } =
      assignment;
    const [revision, [outing], rider, logger] = await Promise.all([
      this.setups.findRevisionParts(setupRevisionId),
      this.outings.list(outingId),
      riderId === null ? undefined : this.parts.find('riders', riderId),
      loggerId === null ? undefined : this.parts.find('loggers', loggerId),
    ]);
    if (!revision) throw notFound('The chosen setup');
    if (!outing) throw notFound('The chosen outing');
    const mass =
      totalMassKg ??
      addUp([revision.bike.massKg, revision.kit.massKg, ...revision.packs.map((p) => p.massKg), rider?.massKg ?? null]);
    const { bike } = revision;
    return {
      ...withoutNulls({
        airTemperatureC: outing.airTemperatureC,
        airPressurePa: outing.airPressureHpa === null ? null : outing.airPressureHpa * 100,
        relativeHumidity: outing.relativeHumidity,
        windMps: outing.windMps,
        totalMassKg: mass,
        cdaM2: bike.dragAreaM2,
        crr: bike.rollingCoefficient,
      }),
      pack: packKnowledge(revision),
      // A ride stopped early is the ordinary case: its distance counts as "more than" in the verdict, not as a warning here.
      ...(emptied && { emptied }),
      ...(gauge && {
        gauge: { startShare: gauge.start / gauge.bars, endShare: gauge.end / gauge.bars, stepShare: 1 / gauge.bars },
      }),
      ...(ruleOfThumbWhPerKm !== null && { ruleOfThumbWhPerKm }),
      ...(logger && { instrument: instrumentOf(logger) }),
    };
  }
}

/** A sum of which one part is unknown is unknown. */
function addUp(masses: readonly (number | null)[]): number | null {
  return masses.reduce((sum: number | null, mass) => (sum === null || mass === null ? null : sum + mass), 0);
}

/** Packs in parallel: charges and energies add, the voltage is that of one. */
function packKnowledge({ packs }: RevisionParts): NonNullable<TestContext['pack']> {
  const [first] = packs;
  if (!first) return {};
  const uncertainties = packs.map((pack) => pack.measuredEnergyUncertaintyWh);
  return withoutNulls({
    chemistry: first.chemistry,
    nominalVoltageV: first.nominalVoltageV,
    capacityAh: addUp(packs.map((pack) => pack.capacityAh)),
    usableShare: first.usableShare,
    measuredEnergyWh: addUp(packs.map((pack) => pack.measuredEnergyWh)),
    measuredEnergyUncertaintyWh: uncertainties.includes(null) ? null : Math.hypot(...uncertainties.map((u) => u!)),
  });
}

function instrumentOf({
  voltageGain,
  currentGain,
  currentOffsetA,
  distanceGain,
  altitudeM,
}: Part<'loggers'>): NonNullable<TestContext['instrument']> {
  return withoutNulls({ voltageGain, currentGain, currentOffsetA, distanceGain, altitudeM });
}
