import { exactSum } from '../exact-sum.js';
import type { ConvertedSetup } from '../facts.js';
import { isAtMost, verdict, want, withKnown, type Rule } from '../rule.js';
import { packPlace } from '../total-mass.js';
import { amount, say } from '../../units/index.js';
import { usualOfAll, usualPackMass } from '../usual.js';

const onTrailer = ({ packs }: ConvertedSetup) => packs.filter((pack) => packPlace(pack) === 'trailer');
const trailerOf = ({ addOns }: ConvertedSetup) => addOns.findLast(({ kind }) => kind === 'trailer');
const hasTrailer = (setup: ConvertedSetup): boolean => onTrailer(setup).length > 0 || trailerOf(setup) !== undefined;

export const TRAILER_LOAD: Rule = {
  id: 'trailer-load',
  title: 'Trailer load',
  group: 'load',
  severity: 'stop',
  basis: 'Packs and payload on the trailer against what the trailer may carry; its own mass is not in it.',
  applies: hasTrailer,
  assess: (setup) => {
    const packs = onTrailer(setup);
    return withKnown(
      {
        limit: want('add-on', 'limitKg', 'load limit of the trailer, among the add-ons', trailerOf(setup)?.limitKg),
        masses: want<readonly number[]>(
          'pack',
          'massKg',
          'mass of every pack on the trailer',
          packs.every(({ massKg }) => massKg !== null) ? packs.map(({ massKg }) => massKg!) : null,
          usualOfAll(
            packs.map((pack) => (pack.massKg === null ? usualPackMass(pack) : { value: pack.massKg, why: '' })),
          ),
        ),
      },
      ({ limit, masses }) => {
        const payload = setup.fit.payloadPlace === 'trailer' ? (setup.fit.payloadKg ?? 0) : 0;
        const load = exactSum([...masses, payload]);
        return verdict(
          isAtMost(load, limit),
          say`${amount(exactSum(masses), 'kg')} of packs + ${amount(payload, 'kg')} payload = ${amount(load, 'kg')} of ${amount(limit, 'kg')}`,
          say`Take ${amount(load - limit, 'kg', 3)} off the trailer, or use one built for more.`,
        );
      },
    );
  },
};

export const TRAILER_HITCH: Rule = {
  id: 'trailer-hitch',
  title: 'Hitch, cable and tie-down of the trailer',
  group: 'fit',
  severity: 'stop',
  basis: 'Nothing of this can be computed: it is looked at, pulled at and ridden slowly.',
  applies: hasTrailer,
  assess: (setup) => ({
    state: 'by-hand',
    arithmetic:
      onTrailer(setup).length > 0
        ? say`power runs across the hitch, and ${setup.packs.length === 1 ? 'a pack' : 'packs'} can shift`
        : say`a trailer is pulled`,
    remedy: say`Hitch pin secured and a second strap round the frame. Cable with slack for the tightest turn, held on both sides, with a plug that parts before a wire tears, and the fuse at the battery. Packs strapped in two directions, terminals covered, upright. Brakes tried with the load: the way to stop grows.`,
  }),
};
