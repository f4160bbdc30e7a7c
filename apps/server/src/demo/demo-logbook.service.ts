import { Injectable } from '@nestjs/common';
import { v7 as uuidv7 } from 'uuid';
import { conversionInputSchema, entryInputSchema, type EntryInput, type Subject } from '@ebrix/contract';
import { LogbookService } from '../logbook/logbook.service.js';
import { SetupService } from '../setups/setup.service.js';
import { SETUPS } from './scenario.js';

type Told = readonly [day: string, odometerKm: number | null, details: Readonly<Record<string, unknown>>, by?: string];
interface RoundBike {
  readonly name: string;
  readonly kit: string;
  readonly motorKind: string;
  readonly pack: string;
  readonly use: string;
  readonly fittedOn: string;
  readonly km: number;
  readonly entries: readonly Told[];
}
const BREAD = 'bread round';
const MILK = 'milk round';
const shows = (km: number) => ({ kind: 'odometer', way: 'reading', km });
const spokes = (words: string, effect = 'limped', cure = 'Relaced, all spokes tensioned') => ({
  kind: 'fault',
  part: 'spokes',
  symptom: 'noise',
  words,
  effect,
  daysOff: 3,
  cause: 'Not tensioned evenly when laced',
  cure,
});
const fault = (part: string, words: string, effect: string, cure = '') => ({
  kind: 'fault',
  part,
  words,
  effect,
  cure,
});
const newPart = (part: string, why = 'worn') => ({ kind: 'replacement', part, why });
const chain = (value: number) => ({ kind: 'inspection', part: 'chain', value });
const charge = (kWh: number) => ({ kind: 'charge', kWh, extent: 'full' });
const gave = (value: number) => ({ kind: 'inspection', part: 'pack', value, words: 'Ridden from full to cut-off' });
const service = (...items: string[]) => ({ kind: 'service', items });

/** The other bikes of the round, a year of them; nobody tests these, but what fails on them counts. */
const ROUND_BIKES: readonly RoundBike[] = [
  {
    name: 'Round bike 1',
    kit: 'Corvane R2',
    motorKind: 'rear-hub-geared',
    pack: 'Fennock 44 V 11.6 Ah',
    use: BREAD,
    fittedOn: '2025-05-12',
    km: 3120,
    entries: [
      [
        '2025-06-02',
        104,
        {
          kind: 'follow-up',
          stage: 'first-100-km',
          answers: { comfort: 4, noise: 3, trust: 3, again: 4 },
          words: 'Quieter than I feared.',
        },
        'Bram Tellow',
      ],
      [
        '2025-11-14',
        1490,
        {
          kind: 'follow-up',
          stage: 'half-year',
          answers: { comfort: 4, noise: 3, trust: 5, again: 5 },
          changed: 'Wider grips',
          words: 'It just starts, every morning.',
        },
        'Bram Tellow',
      ],
      ['2025-12-03', 1610, fault('display', 'Blank in the rain, dry again by noon', 'nuisance', 'Contacts greased')],
      ['2026-02-20', 2300, newPart('brake-pads')],
      ['2026-06-10', 3060, chain(0.55)],
    ],
  },
  {
    name: 'Round bike 2',
    kit: 'Corvane R2',
    motorKind: 'rear-hub-geared',
    pack: 'Fennock 44 V 11.6 Ah',
    use: MILK,
    fittedOn: '2025-05-14',
    km: 2780,
    entries: [
      ['2025-08-21', 820, fault('pedal-sensor', 'Help came and went', 'limped', 'Magnet ring pushed back on')],
      ['2026-01-16', 1900, newPart('chain')],
      ['2026-03-09', 2240, newPart('brake-pads')],
    ],
  },
  {
    name: 'Round bike 4',
    kit: 'Corvane R2',
    motorKind: 'rear-hub-geared',
    pack: 'Fennock 44 V 11.6 Ah',
    use: BREAD,
    fittedOn: '2025-06-02',
    km: 2510,
    entries: [
      ['2026-02-11', 1850, newPart('brake-pads')],
      ['2026-04-28', 2260, fault('wiring', 'Plug of the motor cable warm to the hand', 'danger', 'New plug, crimped')],
    ],
  },
  {
    name: 'Round bike 5',
    kit: 'Dromel D5',
    motorKind: 'rear-hub-direct',
    pack: 'Fennock 52 V 13.2 Ah',
    use: MILK,
    fittedOn: '2025-05-20',
    km: 2900,
    entries: [
      ['2025-05-27', 58, spokes('Two broke on the left', 'limped')],
      ['2025-06-11', 131, spokes('One broke by the valve', 'stopped')],
      ['2025-06-30', 236, spokes('Three loose, one broke')],
      ['2025-08-04', 495, spokes('One broke, ten loose', 'nuisance', 'Wheel built anew by Hazel Quill, butted spokes')],
      ['2026-02-02', 1930, newPart('tyre')],
      ['2026-03-30', 2410, newPart('brake-pads')],
    ],
  },
  {
    name: 'Round bike 6',
    kit: 'Dromel D5',
    motorKind: 'rear-hub-direct',
    pack: 'Fennock 52 V 13.2 Ah',
    use: BREAD,
    fittedOn: '2025-05-22',
    km: 2640,
    entries: [
      ['2025-06-06', 88, spokes('One broke', 'nuisance')],
      ['2025-06-20', 171, spokes('Two broke in one week')],
      ['2026-03-18', 2090, newPart('brake-pads')],
    ],
  },
  {
    name: 'Round bike 7',
    kit: 'Quillon M3',
    motorKind: 'mid',
    pack: 'Fennock 52 V 13.2 Ah',
    use: MILK,
    fittedOn: '2025-06-10',
    km: 2350,
    entries: [
      ['2025-10-23', 890, newPart('chain')],
      ['2026-01-29', 1480, fault('chain', 'Parted under load on Chapel Hill', 'stopped', 'New chain')],
      ['2026-01-29', 1480, newPart('chain', 'failed')],
      ['2026-05-20', 2180, newPart('chain')],
      ['2026-05-20', 2180, newPart('sprockets')],
    ],
  },
  {
    name: 'Round bike 8',
    kit: 'Quillon M3',
    motorKind: 'mid',
    pack: 'Fennock 52 V 13.2 Ah',
    use: BREAD,
    fittedOn: '2025-06-12',
    km: 1980,
    entries: [
      ['2025-12-08', 930, newPart('chain')],
      ['2026-04-14', 1640, newPart('chain')],
      [
        '2026-05-05',
        1780,
        fault('pedal-sensor', 'Pushed on after the pedals stopped', 'danger', 'Sensor replaced under warranty'),
      ],
    ],
  },
];
/** The bike that is tested: a year of its own, with a pack that fades. */
const TESTED: readonly Told[] = [
  ['2025-04-02', 3840, { kind: 'fitted', use: BREAD }],
  ['2025-04-03', 3852, gave(98)],
  [
    '2025-04-26',
    3946,
    {
      kind: 'follow-up',
      stage: 'first-100-km',
      answers: { comfort: 4, noise: 4, trust: 3, again: 4 },
      words: 'Starts gently with a full box.',
    },
    'Ottoline Vask',
  ],
  ['2025-04-26', 3946, service('axle-nuts', 'spokes')],
  ['2025-08-30', 4880, service('axle-nuts', 'spokes', 'brake-pads', 'tyre', 'wiring')],
  ['2025-09-12', 4990, gave(95)],
  ['2025-11-05', 5405, newPart('brake-pads')],
  ['2026-01-20', 5910, gave(92)],
  ['2026-01-22', 5921, charge(0.46)],
  ['2026-01-27', 5957, charge(0.43)],
  ['2026-02-03', 5996, charge(0.48)],
  ['2026-02-09', 6033, charge(0.45)],
  ['2026-03-05', 6210, chain(0.3)],
  ['2026-03-20', 6320, service('axle-nuts', 'spokes', 'chain', 'pack')],
  ['2026-06-24', 6905, gave(88)],
  ['2026-06-25', 6911, chain(0.45)],
  ['2026-06-25', null, shows(6911)],
];

/** Life after fitting in the demo, through the doors a tester uses. */
@Injectable()
export class DemoLogbookService {
  constructor(
    private readonly logbook: LogbookService,
    private readonly setups: SetupService,
  ) {}

  async load(): Promise<void> {
    if ((await this.logbook.conversions()).length > 0) return;
    for (const { entries, km, ...fields } of ROUND_BIKES) {
      const { id } = await this.logbook.addConversion(
        conversionInputSchema.parse({ ...fields, km, kmOn: '2026-06-25', notes: '' }),
      );
      await this.logbook.add(entries.map((told) => toEntry({ kind: 'conversion', id }, told)));
    }
    const setup = (await this.setups.list()).find(({ name }) => name === SETUPS.corvane.name);
    if (setup) await this.logbook.add(TESTED.map((told) => toEntry({ kind: 'setup', id: setup.id }, told)));
  }
}

function toEntry(subject: Subject, [day, odometerKm, details, by = 'Ottoline Vask']: Told): EntryInput {
  return entryInputSchema.parse({ id: uuidv7(), subject, day, odometerKm, by, details });
}
