import { axleLoads } from '../axle-loads.js';
import { exactSum } from '../exact-sum.js';
import type { BikeFacts, ConvertedSetup } from '../facts.js';
import { isAtMost, likely, verdict, want, withKnown, type Assessment, type Need, type Rule } from '../rule.js';
import { amount, say } from '../../units/index.js';
import { usualKitMass, usualOfAll, usualPackMass } from '../usual.js';
import { packPlace, totalMass, type MassRollUp } from '../total-mass.js';

/** The mass with everything known, or what is missing of it. */
export function withMass(setup: ConvertedSetup, assess: (mass: MassRollUp) => Assessment): Assessment {
  const mass = totalMass(setup);
  const needs: Need[] = [];
  const measured: Need[] = [];
  const taken: string[] = [];
  const kitMass = usualKitMass(setup.kit);
  const packMasses = usualOfAll(
    setup.packs.map((pack) => (pack.massKg === null ? usualPackMass(pack) : { value: pack.massKg, why: '' })),
  );
  if (setup.bike.massKg === null) needs.push({ owner: 'bike', field: 'massKg', label: 'mass of the bike' });
  if (mass.missing.some((what) => what.includes(setup.kit.name))) {
    measured.push({ owner: 'kit', field: 'massKg', label: 'mass of the kit' });
    taken.push(
      setup.kit.massKg === null ? kitMass.why : 'the mass of the whole kit, its box not being weighed through',
    );
  }
  if (setup.packs.some(({ massKg }) => massKg === null)) {
    const need: Need = { owner: 'pack', field: 'massKg', label: 'mass of every pack' };
    if (packMasses) measured.push(need);
    else needs.push(need);
    if (packMasses) taken.push(packMasses.why);
  }
  if (setup.addOns.some(({ massKg }) => massKg === null))
    needs.push({ owner: 'add-on', field: 'massKg', label: 'mass of every add-on' });
  if (setup.fit.riderMassKg === null)
    needs.push({ owner: 'fit', field: 'riderMassKg', label: 'mass of the heaviest rider' });
  if (needs.length > 0) return { state: 'needs', needs: [...needs, ...measured] };
  if (measured.length === 0) return assess(mass);
  const filled = totalMass({
    ...setup,
    // The kit as a whole: a box of which one thing was not weighed would leave that out unsaid.
    kit: { ...setup.kit, massKg: setup.kit.massKg ?? kitMass.value, box: [] },
    packs: setup.packs.map((pack, k) => ({ ...pack, massKg: pack.massKg ?? packMasses?.value[k] ?? null })),
  });
  return likely(assess(filled), taken, measured);
}

function tyreLimit({ bike, addOns }: ConvertedSetup, own: BikeFacts['frontTyreLimitKg']): number | null {
  const fitted = addOns.filter(({ kind }) => kind === 'tyres');
  return fitted.length > 0 ? (fitted.at(-1)!.limitKg ?? null) : bike && own;
}

export const TYRE_LOAD: Rule = {
  id: 'tyre-load',
  title: 'Tyre load',
  group: 'load',
  severity: 'stop',
  basis: 'Load on each wheel with the heaviest rider and payload against the load marked on the tyre.',
  applies: () => true,
  assess: (setup) =>
    withMass(setup, (mass) =>
      withKnown(
        {
          front: want(
            'bike',
            'frontTyreLimitKg',
            'front tyre load limit',
            tyreLimit(setup, setup.bike.frontTyreLimitKg),
          ),
          rear: want('bike', 'rearTyreLimitKg', 'rear tyre load limit', tyreLimit(setup, setup.bike.rearTyreLimitKg)),
        },
        ({ front, rear }) => {
          const loads = axleLoads(mass.items, setup.bike.frontShare);
          return verdict(
            isAtMost(loads.frontKg, front) && isAtMost(loads.rearKg, rear),
            say`front ${amount(loads.frontKg, 'kg', 3)} of ${amount(front, 'kg')}, rear ${amount(loads.rearKg, 'kg', 3)} of ${amount(rear, 'kg')}`,
            say`Carry less, move load to the other wheel, or fit tyres marked for more.`,
          );
        },
      ),
    ),
};

export const TOTAL_LOAD: Rule = {
  id: 'total-load',
  title: 'Maximum total weight of the bike',
  group: 'load',
  severity: 'stop',
  basis:
    'Bike, conversion, heaviest rider and payload against the bike maker’s maximum total weight. A trailer rolls on its own wheels.',
  applies: () => true,
  assess: (setup) =>
    withMass(setup, (mass) =>
      withKnown(
        { limit: want('bike', 'totalLimitKg', 'bike maker’s maximum total weight', setup.bike.totalLimitKg) },
        ({ limit }) => {
          const { frontKg, rearKg } = axleLoads(mass.items, setup.bike.frontShare);
          const onBike = frontKg + rearKg;
          return verdict(
            isAtMost(onBike, limit),
            say`${amount(onBike, 'kg', 4)} on the bike’s wheels of ${amount(limit, 'kg')} allowed`,
            say`Take ${amount(onBike - limit, 'kg', 3)} off, or use a trailer or another bike.`,
          );
        },
      ),
    ),
};

export const RACK_LOAD: Rule = {
  id: 'rack-load',
  title: 'Rack load',
  group: 'load',
  severity: 'stop',
  basis: 'Pack and payload on the rear rack against what the rack carries.',
  applies: ({ packs, fit }) =>
    packs.some((pack) => packPlace(pack) === 'rear-rack') ||
    (fit.payloadKg !== null && fit.payloadPlace === 'rear-rack'),
  assess: ({ bike, packs, addOns, fit }) => {
    const racks = addOns.filter(({ kind }) => kind === 'rack');
    const onRack = packs.filter((pack) => packPlace(pack) === 'rear-rack');
    return withKnown(
      {
        limit: want(
          'bike',
          'rackLimitKg',
          'rear rack load limit',
          racks.length > 0 ? racks.at(-1)!.limitKg : bike.rackLimitKg,
        ),
        masses: want(
          'pack',
          'massKg',
          'mass of the pack on the rack',
          onRack.every(({ massKg }) => massKg !== null) ? onRack.map(({ massKg }) => massKg!) : null,
        ),
      },
      ({ limit, masses }) => {
        const payload = fit.payloadPlace === 'rear-rack' ? (fit.payloadKg ?? 0) : 0;
        const load = exactSum([...masses, payload]);
        return verdict(
          isAtMost(load, limit),
          say`${amount(exactSum(masses), 'kg')} pack + ${amount(payload, 'kg')} payload = ${amount(load, 'kg')} of ${amount(limit, 'kg')}`,
          say`Take ${amount(load - limit, 'kg', 3)} off the rack or fit a stronger one.`,
        );
      },
    );
  },
};
