import { Injectable } from '@nestjs/common';
import { checkSetup, clearanceItems } from '@ebrix/core/bench';
import { revisionInputSchema, type PartKind, type SetupDetail } from '@ebrix/contract';
import { PartsService } from '../bench/parts.service.js';
import { FittingService } from '../fitting/fitting.service.js';
import { toFacts } from '../setups/revision-facts.js';
import { SetupService } from '../setups/setup.service.js';
import { StandService } from '../stand/stand.service.js';
import { ADD_ONS, BIKES, CHARGERS, KITS, LIMITS, LOGGERS, PACKS, RIDERS } from './bench-parts.js';
import { BENCH_SETUPS, type BenchSetup } from './bench-setups.js';

const SIGNED = 'Ottoline Vask';

export interface BenchIds {
  readonly revisionOf: ReadonlyMap<string, string>;
  readonly riders: ReadonlyMap<string, string>;
  readonly loggers: ReadonlyMap<string, string>;
}

/** The bench of the scenario: parts, setups, checks waived, gates passed, fitting and stand records. */
@Injectable()
export class DemoBenchService {
  constructor(
    private readonly parts: PartsService,
    private readonly setups: SetupService,
    private readonly fittings: FittingService,
    private readonly stands: StandService,
  ) {}

  async load(): Promise<BenchIds> {
    const ids = {
      bikes: await this.ensureParts('bikes', BIKES),
      kits: await this.ensureParts('kits', KITS),
      packs: await this.ensureParts('packs', PACKS),
      chargers: await this.ensureParts('chargers', CHARGERS),
      addOns: await this.ensureParts('add-ons', ADD_ONS),
      limits: await this.ensureParts('limits', LIMITS),
    };
    const known = await this.setups.list();
    const revisionOf = new Map<string, string>();
    for (const wanted of BENCH_SETUPS) {
      const there = known.find(({ name }) => name === wanted.name);
      const setup = there
        ? await this.setups.get(there.id)
        : await this.setups.add({
            name: wanted.name,
            notes: '',
            revision: revisionInputSchema.parse({
              bikeId: ids.bikes.get(wanted.bike),
              kitId: ids.kits.get(wanted.kit),
              packIds: [ids.packs.get(wanted.pack)],
              chargerId: ids.chargers.get(wanted.charger),
              addOnIds: wanted.addOns.map((name) => ids.addOns.get(name)),
              limitsId: ids.limits.get(wanted.limits),
              settings: wanted.settings,
              fit: wanted.fit,
              change: wanted.change,
              why: wanted.why,
            }),
          });
      revisionOf.set(wanted.name, setup.revisions.at(-1)!.id);
      await this.mark(setup, wanted);
      await this.record(setup, wanted);
    }
    return {
      revisionOf,
      riders: await this.ensureParts('riders', RIDERS),
      loggers: await this.ensureParts('loggers', LOGGERS),
    };
  }

  private async mark(setup: SetupDetail, { waived, isCleared }: BenchSetup): Promise<void> {
    const revision = setup.revisions.at(-1)!;
    if (revision.marks.length > 0) return;
    for (const { ids, reason } of waived)
      for (const id of ids) await this.setups.mark(revision.id, { ids: [id], kind: 'waived', by: SIGNED, reason });
    if (!isCleared) return;
    const facts = toFacts(revision);
    const items = clearanceItems(facts, checkSetup(facts), []).filter(({ isComputed }) => !isComputed);
    await this.setups.mark(revision.id, { ids: items.map(({ id }) => id), kind: 'passed', by: SIGNED, reason: '' });
  }

  private async record(setup: SetupDetail, { fitting, stand, findings }: BenchSetup): Promise<void> {
    const revisionId = setup.revisions.at(-1)!.id;
    const { version, steps } = await this.fittings.get(setup.id);
    if (version === 0 && Object.keys(fitting).length > 0)
      await this.fittings.save(setup.id, {
        version,
        steps: steps.map(({ runningSince: _runningSince, ...step }) => {
          const [minutes, difficulty, trouble = '', cure = ''] = fitting[step.id] ?? [0, null];
          return { ...step, isDone: minutes > 0, elapsedS: minutes * 60, difficulty, trouble, cure };
        }),
      });
    if (stand && (await this.stands.list(setup.id)).length === 0)
      await this.stands.save(revisionId, { ...stand, version: 0 });
    if (findings.length > 0 && (await this.stands.findings(setup.id)).length === 0)
      for (const finding of findings) await this.stands.addFinding(setup.id, { ...finding, revisionId, by: SIGNED });
  }

  private async ensureParts<K extends PartKind>(
    kind: K,
    wanted: readonly Parameters<PartsService['add']>[1][],
  ): Promise<Map<string, string>> {
    const byName = new Map((await this.parts.list(kind)).map(({ name, id }) => [name, id]));
    for (const input of wanted)
      if (!byName.has(input.name)) byName.set(input.name, (await this.parts.add(kind, input as never)).id);
    return byName;
  }
}
