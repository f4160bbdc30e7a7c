import { say } from '../../units/index.js';
import { usableEnergy, type UsableEnergy } from '../../battery/index.js';
import type { CleanLog } from '../../logs/index.js';
import { derivationQuantity as qty, derivationNumber as num, fromLimit, makeFigure } from '../figure.js';
import type { Contribution, Figure, Warn } from '../figure.js';
import { byLearnedBars } from '../manual/energy-by-gauge.js';
import type { EnergyByHand } from '../manual/manual-parts.js';
import type { TestContext } from '../test-context.js';

const DEFAULT_RESERVE = 0.2;
/** Relative half-width of a rule of thumb. */
const THUMB_LIMIT = 0.3;

/** The four schools of range: metered, ridden to empty, rule of thumb, gauge bars; each where the ride carries it. */
export function addRangeFigures(
  net: Figure,
  distanceKm: number,
  { channels }: CleanLog,
  context: TestContext,
  figures: Figure[],
  warn: Warn,
): void {
  const reserve = context.reserveShare ?? DEFAULT_RESERVE;
  const temperatureC = mean(channels.batteryTemperature) ?? mean(channels.airTemperature) ?? context.airTemperatureC;
  const usable = usableEnergy({ ...context.pack, ...(temperatureC !== undefined && { temperatureC }) });
  if (usable && net.value > 0) {
    const range = usable.energyWh / net.value;
    const contributions = (factor: number): Contribution[] => [
      {
        source: `usable energy (${usable.source})`,
        standardUncertainty: (factor * usable.standardUncertaintyWh) / net.value,
        isSystematic: true,
      },
      ...net.derivation.contributions.map(({ source, standardUncertainty }) => ({
        source,
        standardUncertainty: (factor * standardUncertainty * range) / net.value,
        isSystematic: true,
      })),
    ];
    for (const [key, label, factor, formula] of [
      ['rangeToCutoff', 'Range to cut-off', 1, 'usable energy ÷ net consumption'],
      [
        'rangeWithReserve',
        `Range, ${Math.round(reserve * 100)} % reserve`,
        1 - reserve,
        '(1 − reserve) × usable energy ÷ net consumption',
      ],
    ] as const)
      figures.push(
        makeFigure({
          key,
          label,
          value: factor * range,
          unit: 'km',
          contributions: contributions(factor),
          n: net.n,
          formula,
          substituted: say`${factor === 1 ? '' : `${num(factor)} × `}${num(usable.energyWh)} Wh ÷ ${qty(net.value, 'Wh/km')} = ${qty(factor * range, 'km')}`,
          inputs: ['netConsumption', usable.source],
        }),
      );
    const thumb = context.ruleOfThumbWhPerKm;
    if (thumb !== undefined && thumb > 0) {
      const byThumb = usable.energyWh / thumb;
      figures.push(
        makeFigure({
          key: 'rangeRuleOfThumb',
          label: 'Range by rule of thumb',
          value: byThumb,
          unit: 'km',
          n: 1,
          contributions: [
            { source: 'rule of thumb', standardUncertainty: fromLimit(THUMB_LIMIT * byThumb) },
            { source: `usable energy (${usable.source})`, standardUncertainty: usable.standardUncertaintyWh / thumb },
          ],
          formula: 'usable energy ÷ usual consumption',
          substituted: say`${num(usable.energyWh)} Wh ÷ ${qty(thumb, 'Wh/km')} = ${qty(byThumb, 'km')}`,
          inputs: ['rule of thumb', usable.source],
        }),
      );
    }
  } else if (!usable)
    warn('no-capacity', "The pack's capacity and voltage are not known: the range by metered energy cannot be given.");
  else
    warn(
      'no-net-consumption',
      'The ride used no energy on balance (downhill, or regeneration): no range can be worked out.',
    );

  if (context.emptied === true)
    figures.push(
      makeFigure({
        key: 'rangeRiddenToEmpty',
        label: 'Range, ridden to empty',
        value: distanceKm,
        unit: 'km',
        n: 1,
        contributions: (figures.find(({ key }) => key === 'distance')?.derivation.contributions ?? []).map(
          ({ source, standardUncertainty }) => ({ source, standardUncertainty, isSystematic: true }),
        ),
        formula: 'distance at cut-off',
        substituted: say`${qty(distanceKm, 'km')}`,
        inputs: ['distance'],
      }),
    );
  else if (context.emptied === false)
    warn(
      'stopped-early',
      say`Stopped before the pack was empty: as a ride to empty it only says "more than ${qty(distanceKm, 'km')}".`,
    );

  addGaugeRange(distanceKm, channels.stateOfCharge, usable, context, figures, warn);
}

function addGaugeRange(
  distanceKm: number,
  stateOfCharge: Float64Array | undefined,
  usable: UsableEnergy | undefined,
  context: TestContext,
  figures: Figure[],
  warn: Warn,
): void {
  const seen = usable && byLearnedBars(context, usable.energyWh);
  if (seen) {
    figures.push(learnedGaugeRange(distanceKm, usable, seen));
    return;
  }
  const { gauge } = context;
  const logged = stateOfCharge?.filter((value) => !Number.isNaN(value));
  const start = gauge?.startShare ?? logged?.[0];
  const end = gauge?.endShare ?? logged?.at(-1);
  if (start === undefined || end === undefined) return;
  const step = gauge?.stepShare ?? 0.01;
  const used = start - end;
  if (used < 2 * step) {
    warn(
      'gauge-too-coarse',
      `The gauge moved by ${num(used * 100)} % in steps of ${num(step * 100)} %: too little to give a range by it.`,
    );
    return;
  }
  const range = distanceKm / used;
  figures.push(
    makeFigure({
      key: 'rangeByGauge',
      label: 'Range by the gauge',
      value: range,
      unit: 'km',
      n: 2,
      contributions: [
        { source: 'steps of the gauge', standardUncertainty: (range * Math.sqrt(2) * (step / Math.sqrt(12))) / used },
        { source: 'bars of unequal size', standardUncertainty: fromLimit(0.1 * range), isSystematic: true },
      ],
      formula: 'distance ÷ share used by the gauge',
      substituted: say`${qty(distanceKm, 'km')} ÷ ${num(used)} = ${qty(range, 'km')}`,
      inputs: ['distance', 'gauge'],
    }),
  );
}

/** As this pack's own gauge was seen to mean its bars: no equal shares are taken. */
function learnedGaugeRange(distanceKm: number, usable: UsableEnergy, seen: EnergyByHand): Figure {
  const range = (distanceKm * usable.energyWh) / seen.value;
  return makeFigure({
    key: 'rangeByGauge',
    label: 'Range by the gauge',
    value: range,
    unit: 'km',
    n: 2,
    contributions: [
      ...seen.contributions.map((part) => ({
        ...part,
        standardUncertainty: (part.standardUncertainty * range) / seen.value,
      })),
      {
        source: `usable energy (${usable.source})`,
        standardUncertainty: (range * usable.standardUncertaintyWh) / usable.energyWh,
        isSystematic: true,
      },
    ],
    formula: 'distance × usable energy ÷ what this gauge was seen to mean',
    substituted: say`${qty(distanceKm, 'km')} × ${num(usable.energyWh)} Wh ÷ ${num(seen.value)} Wh = ${qty(range, 'km')}`,
    inputs: ['distance', ...seen.inputs, usable.source],
  });
}

function mean(values: Float64Array | undefined): number | undefined {
  let sum = 0;
  let count = 0;
  values?.forEach((value) => {
    if (Number.isNaN(value)) return;
    sum += value;
    count++;
  });
  return count > 0 ? sum / count : undefined;
}
