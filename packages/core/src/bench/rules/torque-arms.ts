import { isHub, type Material } from '../facts.js';
import { isAtLeast, verdict, want, withKnown, type Rule } from '../rule.js';
import { amount, say } from '../../units/index.js';
import { motorEnd } from './axle-fit.js';

/** Stress at which the slot's edge yields, cautious values for bicycle dropouts, in MPa (N/mm²). */
export const EDGE_STRENGTH_MPA: Readonly<Record<Material, number>> = {
  steel: 235,
  titanium: 250,
  aluminium: 120,
  carbon: 0,
};
/** Jolts, braking by the motor and nuts that settle. */
export const TORQUE_MARGIN = 1.5;
/** Above this, ends other than steel are not for a hub motor. */
export const STRONG_MOTOR_NM = 40;

/**
 * Torque that the slots of two dropouts carry by the axle's flats alone, in N·m.
 * Method: pressure rises linearly from the middle of the flat to its end; half of each of the two flats bears:
 * M = p·t·c²/6 per dropout with the flat's length c = √(d² − f²). Friction under the nuts is left out: nuts come loose.
 */
export function slotTorqueNm(strengthMPa: number, thicknessMm: number, diameterMm: number, flatsMm: number): number {
  const flatLengthSquared = Math.max(0, diameterMm ** 2 - flatsMm ** 2);
  return (2 * strengthMPa * thicknessMm * flatLengthSquared) / 6 / 1000;
}

export const TORQUE_ARMS: Rule = {
  id: 'torque-arms',
  title: 'Torque arms',
  group: 'fit',
  severity: 'stop',
  basis:
    'Motor torque × 1.5 against what the slots and the torque arms carry, friction of the nuts left out. At least one arm on every hub motor; steel ends for more than 40 N·m.',
  applies: ({ kit }) => isHub(kit),
  assess: ({ bike, kit, addOns }) => {
    const end = motorEnd({ bike, kit });
    const added = addOns.filter(({ kind }) => kind === 'torque-arm');
    const weakest = Math.min(...added.map(({ torqueNm }) => torqueNm ?? Infinity));
    return withKnown(
      {
        torque: want('kit', 'maxTorqueNm', 'maximum torque of the motor', kit.maxTorqueNm),
        material: end.material,
        thickness: want('bike', 'dropoutThicknessMm', 'thickness of the dropouts', bike.dropoutThicknessMm),
        diameter: want('kit', 'axleDiameterMm', 'diameter of the axle', kit.axleDiameterMm),
        flats: want('kit', 'axleFlatsMm', 'width across the axle flats', kit.axleFlatsMm),
        inBox: want('kit', 'torqueArms', 'number of torque arms in the kit', kit.torqueArms),
        boxRating: want(
          'kit',
          'torqueArmNm',
          'torque one of the kit’s arms is rated for',
          kit.torqueArms === 0 ? 0 : kit.torqueArmNm,
        ),
        addedRating: want(
          'add-on',
          'torqueNm',
          'torque the added arm is rated for',
          added.some(({ torqueNm }) => torqueNm === null) ? null : 0,
        ),
      },
      ({ torque, material, thickness, diameter, flats, inBox, boxRating }) => {
        const slots = slotTorqueNm(EDGE_STRENGTH_MPA[material], thickness, diameter, flats);
        const arms = inBox * boxRating + added.reduce((sum, { torqueNm }) => sum + (torqueNm ?? 0), 0);
        const count = inBox + added.length;
        const load = torque * TORQUE_MARGIN;
        const isWeakEnd = material !== 'steel' && torque > STRONG_MOTOR_NM;
        const oneArm = boxRating > 0 ? boxRating : Number.isFinite(weakest) ? weakest : undefined;
        const more = oneArm === undefined ? 1 : Math.max(1, Math.ceil((load - slots - arms) / oneArm - 1e-9));
        return verdict(
          count >= 1 && !isWeakEnd && isAtLeast(slots + arms, load),
          say`${amount(torque, 'Nm')} × ${TORQUE_MARGIN} = ${amount(load, 'Nm', 3)} against ${amount(slots, 'Nm', 3)} in the ${material} slots + ${amount(arms, 'Nm', 3)} in ${count} ${count === 1 ? 'arm' : 'arms'}`,
          isWeakEnd
            ? say`${amount(torque, 'Nm')} is too much for ${material} dropouts: fit this motor to a steel frame or fork, or choose a weaker one.`
            : say`Fit ${more} more ${more === 1 ? 'torque arm' : 'torque arms'}. A spun axle tears its cable out and drops the wheel.`,
        );
      },
    );
  },
};
