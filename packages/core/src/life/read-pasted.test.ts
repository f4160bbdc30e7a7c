import { readPasted } from './index.js';

describe('rows out of a spreadsheet', () => {
  it('columns in any order, decimal commas, dotted days', () => {
    const { entries, problems } = readPasted(
      'Bike\tDate\tWhat\tOdometer\tPart\tNotes\tkWh\nMilk\t7.4.2026\todometer\t1 240,5 km\t\t\t\nMilk\t2026-04-09\tfault\t1260\tspokes\ttwo broke\t\nMilk\t10.04.2026\t\t1270\t\t\t0,41',
    );
    expect(problems).toEqual([]);
    expect(entries).toMatchObject([
      { line: 2, day: '2026-04-07', bike: 'Milk', kind: 'odometer', km: 1240.5 },
      { line: 3, day: '2026-04-09', kind: 'fault', part: 'spokes', words: 'two broke', km: 1260 },
      { line: 4, day: '2026-04-10', kind: 'charge', kWh: 0.41 },
    ]);
  });
  it('semicolons, and a kind that follows from what is there', () => {
    const { entries } = readPasted('day;part;reading\n2026-04-07;chain;0.4\n2026-04-08;Motor;');
    expect(entries).toMatchObject([
      { kind: 'inspection', part: 'chain', value: 0.4 },
      { kind: 'fault', part: 'motor' },
    ]);
  });
  it('a heading in miles or watt-hours is taken at its word', () => {
    const { entries } = readPasted('day;odometer (mi);energy Wh\n2026-04-07;100;410');
    expect(entries[0]!.km).toBeCloseTo(160.9344, 9);
    expect(entries[0]!.kWh).toBeCloseTo(0.41, 9);
    expect(readPasted('date,miles,what\n2026-04-07,10,odometer').entries[0]!.km).toBeCloseTo(16.09344, 9);
  });
  it('a number that may be two is refused; a small one with three decimals is not', () => {
    const { entries, problems } = readPasted('day;km;kWh\n2026-04-07;1.240;\n2026-04-08;1,240;\n2026-04-09;1240;0.410');
    expect(problems.map(({ line }) => line)).toEqual([2, 3]);
    expect(problems[0]!.message).toContain('“1.240”');
    expect(entries).toMatchObject([{ km: 1240, kWh: 0.41 }]);
  });
  it('names every row that cannot be read', () => {
    const { entries, problems } = readPasted(
      'day,what,km,part\n4/7/2026,odometer,5,\n2026-02-30,odometer,5,\n2026-04-07,odometer,many,\n2026-04-07,dance,5,\n2026-04-07,fault,5,wings\n13/4/2026,odometer,7,',
    );
    expect(problems.map(({ line }) => line)).toEqual([2, 3, 4, 5, 6]);
    expect(problems[2]!.message).toContain('many');
    expect(entries).toMatchObject([{ line: 7, day: '2026-04-13', km: 7 }]);
  });
  it('without a heading, or without anything, says what it needs', () => {
    expect(readPasted('2026-04-07\t5').problems[0]!.message).toContain('name the columns');
    expect(readPasted('  ').problems).toHaveLength(1);
  });
});
