import { Injectable } from '@nestjs/common';
import {
  elsewhereInputSchema,
  moneyBookSchema,
  purchaseLineSchema,
  reportSpecSchema,
  useInputSchema,
  type TrialListItem,
} from '@ebrix/contract';
import { CostService } from '../decide/cost.service.js';
import { UseService } from '../decide/use.service.js';
import { ElsewhereService } from '../elsewhere/elsewhere.service.js';
import { ReportService } from '../reports/report.service.js';
import { SetupService } from '../setups/setup.service.js';
import { TrialService } from '../trials/trial.service.js';
import { SETUPS } from './scenario.js';

/** Two uses with different winners. */
const USES = [
  {
    name: 'Bread round, level',
    notes: 'Stops every 300 m, nothing steeper than a kerb.',
    criteria: [
      { key: 'netConsumption', weight: 3 },
      { key: 'cost', weight: 4 },
      { key: 'addedMass', weight: 2 },
    ],
    mustHaves: [{ key: 'rangeWithReserve', atLeast: 25 }],
  },
  {
    name: 'Milk round over the hill',
    notes: 'Two full churns up Chapel Hill, every morning.',
    criteria: [
      { key: 'climbTime', weight: 4 },
      { key: 'energyPer100m', weight: 2 },
      { key: 'cost', weight: 1 },
    ],
    mustHaves: [],
  },
];
const ALTERNATIVES = [
  { name: 'A ready-made bike', price: 2190, perHundredKm: [4, 7] },
  { name: 'A second-hand moped', price: 650, perHundredKm: [9, 14] },
];
/** What a colleague two towns on found of the first two setups. */
const ELSEWHERE = [
  {
    tester: 'Hazel Quill',
    a: 'A',
    b: 'B',
    ratio: 0.93,
    lower: 0.89,
    upper: 0.972,
    runs: 10,
    note: 'gravel lane, rider of 92 kg',
  },
  { tester: 'Odo Fenn', a: 'A', b: 'B', ratio: 0.86, lower: 0.8, upper: 0.925, runs: 6, note: 'towpath' },
];
const EXTRAS = [
  { what: 'Carriage', kind: 'shipping', price: { amount: 24.9, currency: 'EUR' } },
  { what: 'Torque wrench', kind: 'tool', price: { amount: 61, currency: 'EUR' }, sharedBy: 3 },
  { what: 'Cog puller', kind: 'tool', source: 'borrowed' },
  { what: 'Grease and thread lock', kind: 'consumable', price: { amount: 9.4, currency: 'EUR' } },
];

/** The trial that the demo's report tells of. */
const REPORTED = 'Which kit for the level round?';

/** What the demo decides by: uses, prices and a purchase list, through the doors a tester uses. */
@Injectable()
export class DemoDecideService {
  constructor(
    private readonly uses: UseService,
    private readonly costs: CostService,
    private readonly setups: SetupService,
    private readonly trials: TrialService,
    private readonly reports: ReportService,
    private readonly elsewhere: ElsewhereService,
  ) {}

  async load(): Promise<void> {
    const known = await this.uses.list();
    for (const use of USES)
      if (!known.some(({ name }) => name === use.name)) await this.uses.add(useInputSchema.parse(use));
    const { version, book } = await this.costs.book();
    if (version === 0)
      await this.costs.saveBook({ version, book: moneyBookSchema.parse({ ...book, alternatives: ALTERNATIVES }) });
    await this.buy();
    await this.addElsewhere();
    await this.report();
  }

  private async buy(): Promise<void> {
    const setup = (await this.setups.list()).find(({ name }) => name === SETUPS.corvane.name);
    if (!setup) return;
    const costs = await this.costs.of(setup.id);
    if (costs.isOwn) return;
    const lines = purchaseLineSchema.array().parse([...costs.lines, ...EXTRAS]);
    await this.costs.savePurchases(setup.id, { version: costs.version, lines });
  }

  private async addElsewhere(): Promise<void> {
    const trial = await this.reportedTrial();
    if (!trial || (await this.elsewhere.ofTrial(trial.id)).some(({ studies }) => studies.length > 0)) return;
    for (const study of ELSEWHERE) await this.elsewhere.add(trial.id, elsewhereInputSchema.parse(study));
  }

  private async reportedTrial(): Promise<TrialListItem | undefined> {
    return (await this.trials.list()).find(({ question }) => question === REPORTED);
  }

  private async report(): Promise<void> {
    if ((await this.reports.list()).length > 0) return;
    const trial = await this.reportedTrial();
    if (!trial) return;
    const useIds = (await this.uses.list()).map(({ id }) => id);
    const sections = ['answer', 'setups', 'uses', 'limits', 'cautions'];
    const spec = reportSpecSchema.parse({
      trialId: trial.id,
      title: 'Which kit for the bread round?',
      form: 'short',
      useIds,
      parts: [
        ...sections.slice(0, 1).map((section) => ({ kind: 'section', section })),
        {
          kind: 'text',
          markdown: 'The rear hub does for the **level** round. Whoever takes the hill wants the mid motor.',
        },
        ...sections.slice(1).map((section) => ({ kind: 'section', section })),
      ],
    });
    await this.reports.issue({ spec, by: 'Ottoline Vask', follows: null });
  }
}
