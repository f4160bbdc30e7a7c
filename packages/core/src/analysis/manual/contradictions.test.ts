import fc from 'fast-check';
import { analyseTest, contradictionsOf, type ManualReadings, type TestContext, type TestKind } from '../index.js';

const pack = { chemistry: 'li-ion-nmc', capacityAh: 13.6, nominalVoltageV: 46.8 } as const;
const gauge = { startShare: 1, endShare: 0.6, stepShare: 0.2 };
function look(manualReadings: ManualReadings, context: TestContext = { gauge }, kind: TestKind = 'range') {
  const { figures, warnings } = analyseTest(kind, null, { pack, ...context, manualReadings });
  return { keys: figures.map(({ key }) => key), codes: warnings.map(({ code }) => code), figures };
}

describe('readings that cannot all be true', () => {
  it.each<[string, string, ManualReadings, string[]]>([
    [
      'a comma left out of the trip',
      'distances-disagree',
      { tripDistanceKm: 250, odometerStartKm: 812, odometerEndKm: 837 },
      ['distance', 'netConsumption', 'rangeToCutoff'],
    ],
    [
      'thousands with a point',
      'too-slow',
      { odometerStartKm: 1.234, odometerEndKm: 1.259, odometerStepKm: 0.001, durationS: 3900 },
      ['distance', 'movingTime', 'netConsumption', 'rangeByGauge'],
    ],
    [
      'seconds for minutes',
      'too-fast',
      { tripDistanceKm: 25, durationS: 65 },
      ['distance', 'movingTime', 'netConsumption'],
    ],
    [
      'a comma in the mean',
      'mean-too-low',
      { tripDistanceKm: 25, durationS: 3900, displayMeanKmh: 2.3 },
      ['distance', 'meanMovingSpeed', 'netConsumption'],
    ],
    [
      'a highest below the mean',
      'highest-below-mean',
      { tripDistanceKm: 25, displayMeanKmh: 23, highestSpeedKmh: 14 },
      ['meanMovingSpeed', 'topSpeedOneWay'],
    ],
    [
      'a highest below distance over time',
      'highest-below-mean',
      { tripDistanceKm: 25, durationS: 3900, highestSpeedKmh: 14 },
      ['distance', 'topSpeedOneWay', 'netConsumption'],
    ],
    [
      'highest and lowest exchanged',
      'lowest-above-highest',
      { tripDistanceKm: 25, highestSpeedKmh: 9, lowestSpeedKmh: 34 },
      ['topSpeedOneWay', 'minSpeed'],
    ],
    [
      'pulses exchanged',
      'peak-below-mean',
      { tripDistanceKm: 25, meanHeartRateBpm: 160, peakHeartRateBpm: 130 },
      ['meanHeartRate', 'peakHeartRate'],
    ],
    ['a consumption no bike has', 'consumption-odd', { tripDistanceKm: 0.25 }, ['netConsumption', 'rangeToCutoff']],
    [
      'a socket of another ride',
      'energies-disagree',
      { tripDistanceKm: 25, wallEnergyWh: 3000 },
      ['energyOut', 'netConsumption'],
    ],
    [
      'volts without their comma',
      'voltage-not-of-pack',
      { tripDistanceKm: 25, restVoltageStartV: 5.41, restVoltageEndV: 4.79 },
      [],
    ],
  ])('%s is told, and nothing rests on it', (_, code, readings, without) => {
    const { keys, codes } = look(readings);
    expect(codes).toContain(code);
    for (const key of without) expect(keys).not.toContain(key);
    expect(codes).not.toContain('no-distance');
  });
  it('more than the pack holds is no energy of one ride', () => {
    const { keys, codes } = look({ tripDistanceKm: 25, wallEnergyWh: 1500 }, {});
    expect(codes).toContain('more-than-pack');
    expect(codes).not.toContain('no-energy');
    expect(keys).not.toContain('netConsumption');
  });
  it('a pack that holds less than its label leaves the socket meter its say', () => {
    const readings = { tripDistanceKm: 25, wallEnergyWh: 400, restVoltageStartV: 54.3, restVoltageEndV: 43.5 };
    const aged = look(readings, { gauge: { startShare: 1, endShare: 0.1, stepShare: 0.1 } });
    expect(aged.codes).toContain('pack-below-label');
    const energy = aged.figures.find(({ key }) => key === 'energyOut')!;
    expect(energy.derivation.inputs[0]).toBe('socket meter');
    expect(energy.value).toBeCloseTo(0.86 * 400, 6);
    expect(aged.keys).toContain('netConsumption');
    // A measured pack is no matter of labels: there they contradict each other.
    const measured = { ...pack, measuredEnergyWh: 590, measuredEnergyUncertaintyWh: 6 };
    expect(look(readings, { pack: measured }).codes).toContain('energies-disagree');
  });
  it('lead-acid blocks may give more than is usually taken out of them', () => {
    const blocks = { chemistry: 'lead-acid', capacityAh: 12, nominalVoltageV: 36 } as const;
    const { codes, keys } = look(
      { tripDistanceKm: 25, wallEnergyWh: 500 },
      { pack: blocks, charging: { efficiency: 0.75 } },
    );
    expect(codes).not.toContain('more-than-pack');
    expect(keys).toContain('netConsumption');
  });
  it('a climb slower than pushing has no time', () => {
    const course = { lengthM: 1200, startM: 0, finishM: 1200, isWhole: true, isLoop: false, gainM: 70 };
    const { keys, codes } = look({ durationS: 16_500 }, { course }, 'hill-climb');
    expect(codes).toContain('too-slow');
    for (const key of ['climbTime', 'meanSpeed', 'verticalSpeed']) expect(keys).not.toContain(key);
  });
  it('a bar that went out after the end is left aside, the rest stands', () => {
    const barsOut = [
      { left: 4, km: 62 },
      { left: 3, km: 13 },
    ];
    const { keys, codes, figures } = look({ tripDistanceKm: 25, barsOut });
    expect(codes).toContain('bar-after-the-end');
    expect(keys).toContain('netConsumption');
    expect(figures).toEqual(look({ tripDistanceKm: 25 }).figures);
  });
  it('speeds of two directions far apart are worth a word', () => {
    const { figures } = look({ highestSpeedKmh: 31, highestSpeedBackKmh: 13 }, {}, 'top-speed');
    expect(figures.find(({ key }) => key === 'twoWayTopSpeed')!.warnings[0]!.code).toBe('uneven-directions');
  });
});

it('no true ride contradicts itself, however coarsely it was written down', () => {
  const rounded = (value: number, step: number): number => Math.round(value / step) * step;
  fc.assert(
    fc.property(
      fc.record({
        km: fc.double({ min: 0.5, max: 120, noNaN: true }),
        kmh: fc.double({ min: 6, max: 45, noNaN: true }),
        stopShare: fc.double({ min: 0, max: 0.8, noNaN: true }),
        wheel: fc.double({ min: 0.97, max: 1.03, noNaN: true }),
        stepKm: fc.constantFrom(0.01, 0.1, 1),
        stepS: fc.constantFrom(1, 60, 300),
        above: fc.double({ min: 1, max: 2.5, noNaN: true }),
        below: fc.double({ min: 0, max: 1, noNaN: true }),
        odometer: fc.integer({ min: 0, max: 20_000 }),
        bar: fc.double({ min: 0, max: 1, noNaN: true }),
      }),
      (ride) => {
        const movingS = (3600 * ride.km) / ride.kmh;
        const shownKm = ride.km * ride.wheel;
        const readings: ManualReadings = {
          tripDistanceKm: rounded(shownKm, ride.stepKm),
          tripStepKm: ride.stepKm,
          odometerStartKm: ride.odometer,
          odometerEndKm: rounded(ride.odometer + shownKm, 1),
          odometerStepKm: 1,
          durationS: Math.max(ride.stepS, rounded(movingS / (1 - ride.stopShare), ride.stepS)),
          durationStepS: ride.stepS,
          displayMeanKmh: rounded(ride.kmh * ride.wheel, 0.5),
          highestSpeedKmh: rounded(ride.above * ride.kmh * ride.wheel, 1),
          lowestSpeedKmh: rounded(ride.below * ride.kmh * ride.wheel, 1),
          barsOut: [{ left: 3, km: rounded(ride.bar * shownKm, ride.stepKm) }],
        };
        expect(contradictionsOf(readings)).toEqual([]);
      },
    ),
    { numRuns: 2000 },
  );
});
