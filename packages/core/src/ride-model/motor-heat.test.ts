import fc from 'fast-check';
import { exampleRideModel } from '../testing/example-ride-model.js';
import { IRON_SHARE, settledHeatK, slowTimeConstantS, warmMotor, type MotorHeat } from './motor-heat.js';

const between = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const motors = fc
  .record({
    heatCapacityJPerK: between(800, 4000),
    thermalResistanceKPerW: between(0.1, 0.8),
    winding: fc.option(fc.record({ heatCapacityJPerK: between(80, 600), thermalResistanceKPerW: between(0.02, 0.3) }), {
      nil: undefined,
    }),
  })
  .map(({ winding, ...body }) => ({ ...exampleRideModel.motor, ...body, ...(winding && { winding }) }));

describe('warmth of a motor', () => {
  it('is what was lost in it less what went to the air, whatever the motor', () => {
    fc.assert(
      fc.property(motors, between(0, 200), between(0, 60), between(-10, 35), (motor, copperW, ironW, airC) => {
        const stepS = 0.5;
        let heat: MotorHeat = { windingC: airC + 5, bodyC: airC + 5 };
        const held = ({ windingC, bodyC }: MotorHeat): number =>
          motor.heatCapacityJPerK * bodyC + (motor.winding?.heatCapacityJPerK ?? 0) * windingC;
        const before = held(heat);
        let gainedJ = 0;
        for (let t = 0; t < 400; t += stepS) {
          gainedJ += (copperW + IRON_SHARE * ironW) * stepS;
          gainedJ -= ((heat.bodyC - airC) / motor.thermalResistanceKPerW) * stepS;
          heat = warmMotor(motor, heat, { copperJ: copperW * stepS, ironJ: ironW * stepS }, airC, stepS);
        }
        expect(Math.abs(held(heat) - before - gainedJ)).toBeLessThan(1e-6 * Math.abs(before) + 1e-3);
      }),
    );
  });
  it('stays at the air where nothing is lost, and never cools below it', () => {
    fc.assert(
      fc.property(motors, between(-10, 35), between(0, 90), (motor, airC, warmerK) => {
        let heat: MotorHeat = { windingC: airC, bodyC: airC };
        for (let k = 0; k < 50; k++) heat = warmMotor(motor, heat, { copperJ: 0, ironJ: 0 }, airC, 0.5);
        expect(heat.windingC).toBeCloseTo(airC, 12);
        expect(heat.bodyC).toBeCloseTo(airC, 12);
        heat = { windingC: airC + warmerK, bodyC: airC + warmerK };
        let coldestC = Infinity;
        for (let k = 0; k < 2000; k++) {
          heat = warmMotor(motor, heat, { copperJ: 0, ironJ: 0 }, airC, 0.5);
          coldestC = Math.min(coldestC, heat.windingC, heat.bodyC);
        }
        expect(coldestC).toBeGreaterThanOrEqual(airC - 1e-9);
      }),
      { numRuns: 20 },
    );
  });
  it('settles in proportion to the losses, the winding above its body', () => {
    fc.assert(
      fc.property(motors, between(1, 200), between(0, 60), between(1.1, 4), (motor, copperW, ironW, factor) => {
        const one = settledHeatK(motor, copperW, ironW);
        const more = settledHeatK(motor, factor * copperW, factor * ironW);
        expect(more.windingK / one.windingK).toBeCloseTo(factor, 9);
        expect(more.bodyK / one.bodyK).toBeCloseTo(factor, 9);
        expect(one.windingK).toBeGreaterThanOrEqual(one.bodyK);
      }),
    );
  });
  it('goes at a pace between that of the body alone and that of all its mass behind both resistances', () => {
    fc.assert(
      fc.property(motors, (motor) => {
        const tau = slowTimeConstantS(motor);
        const alone = motor.heatCapacityJPerK * motor.thermalResistanceKPerW;
        const { winding } = motor;
        const most = winding
          ? (motor.heatCapacityJPerK + winding.heatCapacityJPerK) *
            (motor.thermalResistanceKPerW + winding.thermalResistanceKPerW)
          : alone;
        expect(tau).toBeGreaterThanOrEqual(alone * (1 - 1e-9));
        expect(tau).toBeLessThanOrEqual(most * (1 + 1e-9));
      }),
    );
  });
});
