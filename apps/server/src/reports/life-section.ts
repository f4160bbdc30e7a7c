import { FOLLOW_UP_KEYS, FOLLOW_UP_SCALES, LIFE_PARTS } from '@ebrix/core/life';
import type { ReportData } from './report-data.js';
import type { Block } from './report-model.js';
import { writeQuantity } from './write-quantity.js';

/** What became of the setups in use, and of their kits wherever they were fitted. */
export function life({ setups, kitRates, system, tellsNames }: ReportData): Block[] {
  const used = setups.filter(({ life: { km } }) => km > 0);
  if (used.length === 0 && kitRates.length === 0)
    return [{ kind: 'text', text: 'Nothing was written down of life after fitting.' }];
  const km = (value: number): string => writeQuantity(value, 'km', system, 3);
  return [
    ...(kitRates.length > 0
      ? [
          {
            kind: 'list',
            items: kitRates.map(
              ({ label, conversions, words }) =>
                `${label}, ${conversions} ${conversions === 1 ? 'bike' : 'bikes'}: ${words}`,
            ),
          } as const,
        ]
      : []),
    ...used.flatMap(({ name, life: own }): Block[] => {
      const wear = own.wear.flatMap(({ part, kmLeft, interval95: [low, high] }) =>
        kmLeft === null
          ? []
          : [
              kmLeft === 0
                ? `${LIFE_PARTS[part].label}: to be replaced now`
                : `${LIFE_PARTS[part].label}: some ${km(kmLeft)} left (${km(low)} ${high === null ? 'or more' : `to ${km(high)}`})`,
            ],
      );
      return [
        {
          kind: 'text',
          text: [
            `${name}: ${km(own.km)} ridden with this kit${own.fittedOn === null ? '' : ` since ${own.fittedOn}`}, ${
              own.faults.length === 1 ? 'one fault' : `${own.faults.length} faults`
            } written down.`,
            ...(own.ageing ? [`Pack: ${own.ageing.words}`] : []),
            ...(own.socket ? [`From the socket ${own.socket.kWhPer100Km.toPrecision(3)} kWh for 100 km.`] : []),
          ].join(' '),
        },
        ...(wear.length > 0 ? [{ kind: 'list', items: wear } as const] : []),
        ...(own.answers.length > 0
          ? [
              {
                kind: 'table',
                caption: `${name}, asked again: 1 the worse, 5 the better`,
                head: ['Scale', ...own.answers.map(({ day }) => day)],
                rows: FOLLOW_UP_KEYS.map((key) => [
                  FOLLOW_UP_SCALES[key].label,
                  ...own.answers.map(({ answers }) => String(answers[key] ?? '–')),
                ]),
                numeric: own.answers.map((_, k) => k + 1),
              } as const,
            ]
          : []),
        ...own.answers
          .filter(({ words }) => words !== '')
          .map(({ day, words, by }): Block => ({
            kind: 'text',
            text: `${day}${tellsNames && by ? `, ${by}` : ''}: “${words}”`,
          })),
      ];
    }),
  ];
}
