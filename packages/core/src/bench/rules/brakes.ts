import { topAssistedKmh } from '../speeds.js';
import { isAtLeast, isAtMost, verdict, want, withKnown, type Rule } from '../rule.js';
import { amount, say } from '../../units/index.js';
import { withMass } from './loads.js';

/** A 160 mm rotor does for one stop of this energy: about 125 kg from 25 km/h. */
export const REFERENCE_ROTOR_MM = 160;
export const REFERENCE_STOP_J = 3000;
/** Rim brakes with good pads up to this energy. */
export const RIM_LIMIT_J = 3500;

/** Energy of one stop, ½·m·v², in J. */
export function stopEnergyJ(massKg: number, speedKmh: number): number {
  return (massKg * (speedKmh / 3.6) ** 2) / 2;
}

/** Rotor for a stop: heat grows with the energy, and the metal that takes it with the diameter cubed. Rule of thumb; units: mm. */
export function rotorWantedMm(energyJ: number): number {
  return REFERENCE_ROTOR_MM * Math.cbrt(energyJ / REFERENCE_STOP_J);
}

export const ROTOR_SIZE: Rule = {
  id: 'brake-size',
  title: 'Front brake against mass and speed',
  group: 'load',
  severity: 'caution',
  basis:
    'One stop from the top assisted speed, ½·m·v². Rule of thumb: a 160 mm rotor for 3 kJ, growing with the cube root; rim brakes up to 3.5 kJ.',
  applies: () => true,
  assess: (setup) =>
    withMass(setup, ({ totalKg }) =>
      withKnown(
        {
          brake: want('bike', 'frontBrake', 'kind of front brake', setup.bike.frontBrake),
          speed: want('settings', 'speedLimitKmh', 'speed limit set, or the winding’s speed', topAssistedKmh(setup)),
        },
        ({ brake, speed }) => {
          const energy = stopEnergyJ(totalKg, speed);
          const stop = say`${amount(totalKg, 'kg')} from ${amount(speed, 'km/h', 3)}: ${amount(energy / 1000, 'kJ', 3)} a stop`;
          if (brake === 'disc') {
            const fitted = setup.addOns.find(
              ({ kind, rotorMm, place }) => kind === 'brake-rotor' && place !== 'rear-wheel' && rotorMm !== null,
            )?.rotorMm;
            return withKnown(
              { rotor: want('bike', 'frontRotorMm', 'size of the front rotor', fitted ?? setup.bike.frontRotorMm) },
              ({ rotor }) =>
                verdict(
                  isAtLeast(rotor, rotorWantedMm(energy)),
                  [...stop, ...say`; wants ${amount(rotorWantedMm(energy), 'mm', 3)}, fitted ${amount(rotor, 'mm')}`],
                  say`Fit a rotor of at least ${amount(Math.ceil(rotorWantedMm(energy) - 1e-9), 'mm')}, ride slower, or carry less.`,
                ),
            );
          }
          if (brake === 'rim')
            return verdict(
              isAtMost(energy, RIM_LIMIT_J),
              [...stop, ...say`; rim brakes up to ${amount(RIM_LIMIT_J / 1000, 'kJ')}`],
              say`Fit a disc brake in front, lower the speed limit, or carry less.`,
            );
          return verdict(
            false,
            [...stop, ...say`; front brake: ${brake}`],
            say`Fit a rim or disc brake in front: a ${brake === 'none' ? 'missing' : brake} brake does not stop a motor in time.`,
          );
        },
      ),
    ),
};

/** The rear brake's part of a stop at the most: under braking the mass leans on the front wheel. */
export const REAR_PART = 0.5;

export const REAR_ROTOR: Rule = {
  id: 'rear-brake-size',
  title: 'Rear rotor against mass and speed',
  group: 'load',
  severity: 'caution',
  basis:
    'Half of a stop from the top assisted speed, by the same rule of thumb as in front: on a long hill both brakes take turns.',
  applies: ({ bike }) => bike.rearBrake === 'disc',
  assess: (setup) =>
    withMass(setup, ({ totalKg }) =>
      withKnown(
        {
          speed: want('settings', 'speedLimitKmh', 'speed limit set, or the winding’s speed', topAssistedKmh(setup)),
          rotor: want('bike', 'rearRotorMm', 'size of the rear rotor', rearRotorMm(setup)),
        },
        ({ speed, rotor }) => {
          const energy = REAR_PART * stopEnergyJ(totalKg, speed);
          const wanted = rotorWantedMm(energy);
          return verdict(
            isAtLeast(rotor, wanted),
            say`half of a stop of ${amount(totalKg, 'kg')} from ${amount(speed, 'km/h', 3)}: ${amount(energy / 1000, 'kJ', 3)}; wants ${amount(wanted, 'mm', 3)}, fitted ${amount(rotor, 'mm')}`,
            say`Fit a rear rotor of at least ${amount(Math.ceil(wanted - 1e-9), 'mm')}, ride slower, or carry less.`,
          );
        },
      ),
    ),
};
function rearRotorMm({ bike, addOns }: Parameters<Rule['assess']>[0]): number | null {
  const fitted = addOns.find(
    ({ kind, rotorMm, place }) => kind === 'brake-rotor' && place === 'rear-wheel' && rotorMm !== null,
  );
  return fitted?.rotorMm ?? bike.rearRotorMm;
}
