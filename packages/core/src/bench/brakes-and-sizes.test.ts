import { exampleJoiner, hubSetup } from '../testing/example-bench.js';
import { driveSideTable } from './drive-side-table.js';
import type { ConvertedSetup } from './facts.js';
import { BRAKE_SWITCH } from './rules/brake-levers.js';
import { REAR_PART, REAR_ROTOR, rotorWantedMm, stopEnergyJ } from './rules/brakes.js';
import { blocksInSeries, gaugeMm2, WIRE_GAUGES } from './usual-sizes.js';

const setup = hubSetup();
const withBike = (change: object): ConvertedSetup => ({ ...setup, bike: { ...setup.bike, ...change } });
const withSwitches = (brakeSwitches: 'in-line' | 'lever', brakeLever: 'cable' | 'combined' | 'hydraulic' | null) => {
  const { bike, kit } = setup;
  return BRAKE_SWITCH.assess({ ...setup, bike: { ...bike, brakeLever }, kit: { ...kit, brakeSwitches } }).state;
};

it('the kind of lever decides between a lever with a switch and a sensor', () => {
  expect(withSwitches('lever', 'cable')).toBe('passed');
  expect(withSwitches('lever', 'hydraulic')).toBe('failed');
  expect(withSwitches('lever', 'combined')).toBe('failed');
  expect(withSwitches('in-line', 'combined')).toBe('passed');
  expect(withSwitches('in-line', 'hydraulic')).toBe('by-hand');
  // Nobody has said: plain levers are usual.
  expect(withSwitches('lever', null)).toBe('likely');
  expect(BRAKE_SWITCH.applies({ ...setup, kit: { ...setup.kit, brakeSwitches: 'none' } })).toBe(false);
});

it('the rear rotor takes its half of a stop, and a rotor fitted there counts for no other wheel', () => {
  const half = REAR_PART * stopEnergyJ(125, 25);
  expect(rotorWantedMm(2 * half) ** 3 / rotorWantedMm(half) ** 3).toBeCloseTo(2, 9);
  expect(REAR_ROTOR.assess(withBike({ rearRotorMm: 160 })).state).toBe('passed');
  expect(REAR_ROTOR.assess(withBike({ rearRotorMm: 100 })).state).toBe('failed');
  expect(REAR_ROTOR.assess(withBike({ rearRotorMm: null })).state).toBe('needs');
  const rotor = { ...exampleJoiner, kind: 'brake-rotor' as const, rotorMm: 203, place: 'rear-wheel' as const };
  const fitted = { ...withBike({ rearRotorMm: 100 }), addOns: [{ ...rotor, name: 'Rotor' }] };
  expect(REAR_ROTOR.assess(fitted).state).toBe('passed');
  expect(REAR_ROTOR.applies(withBike({ rearBrake: 'rim' }))).toBe(false);
});

describe('the table of cogs, spacers and washers', () => {
  const rows = driveSideTable(setup, {
    cogs: [
      { name: 'seven, screwed', stackMm: 30 },
      { name: 'nine, screwed', stackMm: 37 },
    ],
    spacerMm: 1,
    mostSpacers: 4,
    washersRightMm: [0, 1, 3],
  });
  it('has every combination once, those that fit first', () => {
    expect(rows).toHaveLength(2 * 5 * 3);
    expect(new Set(rows.map(({ cogs, spacers, washersRightMm }) => `${cogs} ${spacers} ${washersRightMm}`)).size).toBe(
      30,
    );
    const states = rows.map(({ state }) => state);
    expect(states.lastIndexOf('fits')).toBeLessThan(states.indexOf('does-not'));
  });
  it('fits only where chain, frame and axle each have their room, reckoned here by hand', () => {
    const { kit, bike, fit } = setup;
    for (const { cogs, spacers, washersRightMm, state, toFrameMm, spreadMm } of rows) {
      const stack = cogs.startsWith('seven') ? 30 : 37;
      const frame = kit.cogSpaceMm! + washersRightMm - stack - spacers;
      const spread = kit.axleWidthMm! + fit.washersLeftMm! + washersRightMm - bike.rearDropoutMm!;
      expect([toFrameMm, spreadMm]).toEqual([frame, spread]);
      const isRight = spacers >= 2 && frame >= 4 && spread <= 3 && spread >= -1;
      expect([cogs, spacers, washersRightMm, state]).toEqual([
        cogs,
        spacers,
        washersRightMm,
        isRight ? 'fits' : 'does-not',
      ]);
    }
    expect(rows.some(({ state }) => state === 'fits')).toBe(true);
  });
  it('cannot tell where the motor’s room is not known', () => {
    const unknown = { ...setup, kit: { ...setup.kit, cogSpaceMm: null } };
    const one = { cogs: [{ name: 'x', stackMm: 30 }], spacerMm: 1, mostSpacers: 3, washersRightMm: [1] };
    expect(driveSideTable(unknown, one).every(({ state }) => state !== 'fits')).toBe(true);
  });
});

it('wire gauges are those of the tables, each step of six halving the diameter', () => {
  expect(gaugeMm2(10)).toBeCloseTo(5.26, 2);
  expect(gaugeMm2(12)).toBeCloseTo(3.31, 2);
  expect(gaugeMm2(16)).toBeCloseTo(1.31, 2);
  expect(gaugeMm2(10) / gaugeMm2(16)).toBeCloseTo(4, 1);
  expect([...WIRE_GAUGES].map(gaugeMm2)).toEqual([...WIRE_GAUGES].map(gaugeMm2).sort((a, b) => b - a));
});

it('blocks in a row add their volts and masses, not their capacity', () => {
  expect(blocksInSeries(4, { voltageV: 12, capacityAh: 12, massKg: 4.1 })).toEqual({
    seriesCells: 24,
    nominalVoltageV: 48,
    capacityAh: 12,
    massKg: 16.4,
  });
  expect(blocksInSeries(2, { voltageV: 6, capacityAh: null, massKg: null })).toMatchObject({
    seriesCells: 6,
    massKg: null,
  });
});
