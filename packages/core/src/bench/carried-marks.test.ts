import { carriedMarks, checkSetup, clearanceItems, type Mark } from './index.js';
import {
  exampleBike,
  exampleCharger,
  exampleFit,
  exampleKit,
  examplePack,
  hubSetup,
} from '../testing/example-bench.js';

const before = hubSetup();
const about = [
  ...checkSetup(before)
    .filter(({ isManual }) => isManual)
    .map(({ id }) => id),
  ...clearanceItems(before, checkSetup(before), [])
    .filter(({ isComputed }) => !isComputed)
    .map(({ id }) => id),
];
const marks: Mark[] = about.map((id) => ({ id, kind: 'passed', by: 'Ottoline Vask', reason: '', at: '2026-04-01' }));
const left = (after: Parameters<typeof carriedMarks>[1], isRefitted = false): string[] => {
  const carried = new Set(carriedMarks(before, after, marks, { isRefitted }).map(({ id }) => id));
  return about.filter((id) => !carried.has(id));
};

describe('what a change reopens', () => {
  it('is nothing for a tariff, a price, a name or a note', () => {
    expect(left(hubSetup({ fit: { ...exampleFit, electricityPerKWh: 0.5, currency: 'GBP' } }))).toEqual([]);
    expect(left(hubSetup({ kit: { ...exampleKit, price: null, name: 'Renamed' } }))).toEqual([]);
  });

  it('is the battery and what goes with it for another charger or pack, and not the axle', () => {
    const charger = left(hubSetup({ charger: { ...exampleCharger, outputA: 3 } }));
    expect(charger).toContain('clearance-lithium');
    expect(charger).not.toContain('clearance-axle');
    const pack = left(hubSetup({ packs: [{ ...examplePack, massKg: 3.3 }] }));
    expect(pack).toEqual(expect.arrayContaining(['clearance-battery', 'clearance-cables', 'clearance-lithium']));
    expect(pack).not.toContain('clearance-axle');
    expect(pack).not.toContain('clearance-helmet');
  });

  it('is all but the helmet for another kit or bike, or where something was taken apart', () => {
    const items = about.filter((id) => id !== 'clearance-helmet' && id !== 'clearance-lithium');
    expect(left(hubSetup({ kit: { ...exampleKit, torqueArms: 2 } }))).toEqual(
      expect.arrayContaining(['clearance-axle', 'clearance-brakes', 'clearance-cut', 'clearance-first-metres']),
    );
    expect(left(hubSetup({ bike: { ...exampleBike, massKg: 19 } }))).toContain('clearance-brakes');
    expect(left(before, true)).toEqual(expect.arrayContaining(items.filter((id) => id.startsWith('clearance'))));
    expect(left(before, true)).not.toContain('clearance-helmet');
  });

  it('is a waived sum that comes out otherwise, and not one that says the same', () => {
    const failing = hubSetup({ packs: [{ ...examplePack, protectionContinuousA: 10 }] });
    const waived: Mark[] = [
      { id: 'protection-current', kind: 'waived', by: 'O', reason: 'Only on the yard.', at: '2026-04-01' },
    ];
    const still = carriedMarks(failing, { ...failing, fit: { ...exampleFit, riderMassKg: 70 } }, waived, {
      isRefitted: false,
    });
    expect(still).toEqual(waived);
    const worse = hubSetup({ packs: [{ ...examplePack, protectionContinuousA: 8 }] });
    expect(carriedMarks(failing, worse, waived, { isRefitted: false })).toEqual([]);
  });
});
