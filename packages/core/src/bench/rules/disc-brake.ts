import { isFrontHub, isHub, type ConvertedSetup } from '../facts.js';
import { isAtLeast, isAtMost, verdict, want, withKnown, type Rule } from '../rule.js';
import { amount, say } from '../../units/index.js';

/** Thread that has to carry: one diameter of an M5 bolt. */
export const MIN_THREAD_MM = 5;
/** Left free at the bottom of the hole, so that the bolt never presses on the cover behind it. */
export const BOTTOM_CLEARANCE_MM = 0.5;

/** The brake on the motor's wheel; while it is not known, it may be a disc. */
const brakeAtMotor = ({ bike, kit }: Pick<ConvertedSetup, 'bike' | 'kit'>) =>
  isFrontHub(kit)
    ? want('bike', 'frontBrake', 'kind of front brake', bike.frontBrake)
    : want('bike', 'rearBrake', 'kind of rear brake', bike.rearBrake);
const mayHaveDisc = ({ bike, kit }: ConvertedSetup): boolean => {
  const brake = isFrontHub(kit) ? bike.frontBrake : bike.rearBrake;
  return isHub(kit) && (brake === 'disc' || brake === null);
};

export const DISC_MOUNT: Rule = {
  id: 'disc-mount',
  title: 'Disc mount on the motor',
  group: 'fit',
  severity: 'stop',
  basis: 'A wheel braked by a disc needs a motor with a disc mount.',
  applies: mayHaveDisc,
  assess: ({ bike, kit }) =>
    withKnown(
      {
        brake: brakeAtMotor({ bike, kit }),
        mount: want('kit', 'discMount', 'whether the motor takes a brake disc', kit.discMount),
      },
      ({ mount }) =>
        verdict(
          mount,
          say`disc brake on the motor’s wheel; the motor ${mount ? 'takes a disc' : 'takes no disc'}`,
          say`Choose a motor with a disc mount, or keep a rim brake on this wheel. Never ride with one brake less.`,
        ),
    ),
};

export const DISC_BOLTS: Rule = {
  id: 'disc-bolts',
  title: 'Disc bolts against the motor cover',
  group: 'fit',
  severity: 'stop',
  basis:
    'Bolt length less rotor and washers is what goes into the cover: at least 5 mm of thread, and 0.5 mm less than the hole is deep. Turn the wheel before and after tightening: it must feel the same.',
  applies: mayHaveDisc,
  assess: ({ bike, kit, fit }) =>
    withKnown(
      {
        brake: brakeAtMotor({ bike, kit }),
        bolt: want('fit', 'discBoltMm', 'length of the disc bolts', fit.discBoltMm),
        rotor: want('fit', 'rotorThicknessMm', 'thickness of the rotor', fit.rotorThicknessMm),
        washer: want('fit', 'discWasherMm', 'washers or spacer under the disc', fit.discWasherMm),
        depth: want('kit', 'discBossDepthMm', 'depth of the disc bolt holes', kit.discBossDepthMm),
      },
      ({ bolt, rotor, washer, depth }) => {
        const inside = bolt - rotor - washer;
        const most = depth - BOTTOM_CLEARANCE_MM;
        const isTooLong = !isAtMost(inside, most);
        return verdict(
          !isTooLong && isAtLeast(inside, MIN_THREAD_MM),
          say`${amount(bolt, 'mm')} bolt − ${amount(rotor, 'mm')} rotor − ${amount(washer, 'mm')} washers = ${amount(inside, 'mm', 3)} in the cover; should be ${amount(MIN_THREAD_MM, 'mm')} to ${amount(most, 'mm', 3)}`,
          isTooLong
            ? say`The bolts bite into the cover. Use bolts of at most ${amount(most + rotor + washer, 'mm', 3)}, or ${amount(inside - most, 'mm', 3)} more of washers. Turn the wheel before and after tightening.`
            : say`Too little thread carries. Use bolts of at least ${amount(MIN_THREAD_MM + rotor + washer, 'mm', 3)}.`,
        );
      },
    ),
};
