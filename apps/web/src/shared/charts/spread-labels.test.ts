import fc from 'fast-check';
import { spreadLabels } from './spread-labels.js';

describe('spreadLabels', () => {
  it('leaves lines that lie apart where they are', () =>
    expect(spreadLabels([100, 20, 60], 14, 200)).toEqual([100, 20, 60]));
  it('moves close ones apart, in the order of their lines', () =>
    expect(spreadLabels([12, 10, 11], 14, 200)).toEqual([38, 10, 24]));
  it('keeps the lowest within the plot', () => expect(spreadLabels([199, 200], 14, 200)).toEqual([186, 200]));
  it('never covers one with another, where there is room for all', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 200, noNaN: true }), { minLength: 1, maxLength: 6 }), (lines) => {
        const placed = spreadLabels(lines, 14, 200);
        const order = lines.map((_, k) => k).sort((a, b) => placed[a]! - placed[b]!);
        for (let j = 1; j < order.length; j++) {
          expect(placed[order[j]!]! - placed[order[j - 1]!]!).toBeGreaterThanOrEqual(14 - 1e-9);
          expect(lines[order[j]!]!).toBeGreaterThanOrEqual(lines[order[j - 1]!]!);
        }
        for (const at of placed) expect(at).toBeLessThanOrEqual(200);
      }),
    );
  });
});
