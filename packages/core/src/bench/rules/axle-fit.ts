import { isFrontHub, isHub, type Material, type ConvertedSetup } from '../facts.js';
import { isAtLeast, isAtMost, verdict, want, withKnown, type Rule } from '../rule.js';
import { amount, say } from '../../units/index.js';

/** How far ends may be spread by hand to take a wider axle. Steel gives; aluminium cracks later; carbon is never spread. */
export const SPREAD_LIMIT_MM: Readonly<Record<Material, number>> = { steel: 3, titanium: 2, aluminium: 1, carbon: 0 };
/** A gap the nuts may close without bending the frame. */
export const GAP_LIMIT_MM = 1;
/** A flat with more play than this lets the axle rock under load. */
export const FLAT_PLAY_MM = 0.5;

/** The end of the frame or fork the hub motor sits in. */
export function motorEnd({ bike, kit }: Pick<ConvertedSetup, 'bike' | 'kit'>) {
  return isFrontHub(kit)
    ? {
        where: 'front',
        dropoutMm: want('bike', 'frontDropoutMm', 'front dropout width', bike.frontDropoutMm),
        axle: want('bike', 'frontAxle', 'how the front axle is held', bike.frontAxle),
        material: want('bike', 'frontDropoutMaterial', 'material of the fork ends', bike.frontDropoutMaterial),
      }
    : {
        where: 'rear',
        dropoutMm: want('bike', 'rearDropoutMm', 'rear dropout width', bike.rearDropoutMm),
        axle: want('bike', 'rearAxle', 'how the rear axle is held', bike.rearAxle),
        material: want('bike', 'rearDropoutMaterial', 'material of the rear dropouts', bike.rearDropoutMaterial),
      };
}

export const AXLE_WIDTH: Rule = {
  id: 'axle-width',
  title: 'Axle and washers against the dropout',
  group: 'fit',
  severity: 'stop',
  basis:
    'Width over the axle’s inner faces plus inner washers against the dropout width. Steel may be spread by 3 mm, titanium by 2, aluminium by 1, carbon not at all; a gap of up to 1 mm closes under the nuts.',
  applies: ({ kit }) => isHub(kit),
  assess: ({ bike, kit, fit }) => {
    const end = motorEnd({ bike, kit });
    return withKnown(
      {
        dropout: end.dropoutMm,
        material: end.material,
        axle: want('kit', 'axleWidthMm', 'width of the motor axle between its faces', kit.axleWidthMm),
        left: want('fit', 'washersLeftMm', 'inner washers, left', fit.washersLeftMm),
        right: want('fit', 'washersRightMm', 'inner washers, right', fit.washersRightMm),
      },
      ({ dropout, material, axle, left, right }) => {
        const stack = axle + left + right;
        const spread = stack - dropout;
        const limit = SPREAD_LIMIT_MM[material];
        return verdict(
          isAtMost(spread, limit) && isAtLeast(spread, -GAP_LIMIT_MM),
          say`${amount(axle, 'mm')} axle + ${amount(left, 'mm')} + ${amount(right, 'mm')} washers = ${amount(stack, 'mm')} in a ${amount(dropout, 'mm')} ${end.where} dropout of ${material}: ${spread >= 0 ? 'spread by' : 'gap of'} ${amount(Math.abs(spread), 'mm', 3)}; allowed: ${amount(GAP_LIMIT_MM, 'mm')} of gap to ${amount(limit, 'mm')} of spread`,
          spread > 0
            ? say`Remove ${amount(spread - limit, 'mm', 3)} of inner washers, or use a motor with a narrower axle. Do not force the frame apart.`
            : say`Add inner washers of ${amount(-spread, 'mm', 3)} in all, so that the nuts do not pull the frame together.`,
        );
      },
    );
  },
};

export const AXLE_KIND: Rule = {
  id: 'axle-kind',
  title: 'Open dropout for a nutted axle',
  group: 'fit',
  severity: 'stop',
  basis: 'A hub motor’s axle is slotted in from below and held by nuts; it does not pass through a closed end.',
  applies: ({ kit }) => isHub(kit),
  assess: ({ bike, kit }) => {
    const end = motorEnd({ bike, kit });
    return withKnown({ axle: end.axle }, ({ axle }) =>
      verdict(
        axle === 'open',
        say`${end.where} end: ${axle === 'open' ? 'open dropout, takes a nutted axle' : 'closed for a thru-axle'}`,
        say`Choose a motor made for a thru-axle, or fit the kit to another wheel.`,
      ),
    );
  },
};

export const AXLE_FLATS: Rule = {
  id: 'axle-flats',
  title: 'Axle flats in the slot',
  group: 'fit',
  severity: 'stop',
  basis: 'The flats have to slide in and then hardly move: play of at most 0.5 mm.',
  applies: ({ kit }) => isHub(kit),
  assess: ({ bike, kit }) =>
    withKnown(
      {
        slot: want('bike', 'dropoutSlotMm', 'width of the dropout slot', bike.dropoutSlotMm),
        flats: want('kit', 'axleFlatsMm', 'width across the axle flats', kit.axleFlatsMm),
      },
      ({ slot, flats }) => {
        const play = slot - flats;
        return verdict(
          isAtLeast(play, 0) && isAtMost(play, FLAT_PLAY_MM),
          say`${amount(slot, 'mm')} slot − ${amount(flats, 'mm')} flats = ${amount(play, 'mm', 2)} of play; should be 0 to ${amount(FLAT_PLAY_MM, 'mm')}`,
          play < 0
            ? say`The axle does not go in. Never file the axle; dressing a steel slot by ${amount(-play, 'mm', 2)} is work for a frame builder.`
            : say`Take up the play with a torque arm that fits the flats closely; it must carry the whole torque.`,
        );
      },
    ),
};
