import { isHub } from '../facts.js';
import { isAtLeast, isAtMost, verdict, want, withKnown, type Rule } from '../rule.js';
import { amount, say } from '../../units/index.js';

export const CRANK_SENSOR: Rule = {
  id: 'crank-sensor',
  title: 'Space for the crank sensor',
  group: 'fit',
  severity: 'caution',
  basis: 'The sensor sits between shell and crank.',
  applies: ({ kit }) => isHub(kit) && kit.sensor !== 'none',
  assess: ({ bike, kit }) =>
    withKnown(
      {
        gap: want('bike', 'crankGapMm', 'shell-to-crank clearance', bike.crankGapMm),
        sensor: want('kit', 'crankSensorMm', 'crank sensor thickness', kit.crankSensorMm),
      },
      ({ gap, sensor }) =>
        verdict(
          isAtLeast(gap, sensor),
          say`${amount(gap, 'mm')} gap for a ${amount(sensor, 'mm')} sensor`,
          say`Use a split or one-piece sensor of at most ${amount(gap, 'mm')}, or a longer bottom-bracket axle.`,
        ),
    ),
};

export const HANDLEBAR_ROOM: Rule = {
  id: 'handlebar-room',
  title: 'Space on the handlebar',
  group: 'fit',
  severity: 'note',
  basis: 'Throttle, display and levers side by side on the straight part of the bar.',
  applies: () => true,
  assess: ({ bike, kit }) =>
    withKnown(
      {
        free: want('bike', 'handlebarFreeMm', 'free length on the handlebar', bike.handlebarFreeMm),
        wanted: want('kit', 'handlebarRoomMm', 'handlebar space the kit needs', kit.handlebarRoomMm),
      },
      ({ free, wanted }) =>
        verdict(
          isAtMost(wanted, free),
          say`${amount(wanted, 'mm')} needed, ${amount(free, 'mm')} free`,
          say`Move the shifter or bell, or use in-line brake sensors instead of new levers.`,
        ),
    ),
};

export const RIM_SIZE: Rule = {
  id: 'rim-size',
  title: 'Rim size of the motor wheel',
  group: 'fit',
  severity: 'stop',
  basis: 'The new wheel has the bead-seat diameter of the old one; else brake and tyre do not fit.',
  applies: ({ kit }) => isHub(kit),
  assess: ({ bike, kit }) =>
    withKnown(
      {
        bikeRim: want('bike', 'rimDiameterMm', 'bead-seat diameter of the bike’s rims', bike.rimDiameterMm),
        kitRim: want('kit', 'rimDiameterMm', 'bead-seat diameter of the motor’s rim', kit.rimDiameterMm),
      },
      ({ bikeRim, kitRim }) =>
        verdict(
          bikeRim === kitRim,
          say`bike ${amount(bikeRim, 'mm')}, motor wheel ${amount(kitRim, 'mm')}`,
          say`Have the motor laced into a ${amount(bikeRim, 'mm')} rim.`,
        ),
    ),
};

export const FOLDING_HINGE: Rule = {
  id: 'folding-hinge',
  title: 'Cables at the folding hinge',
  group: 'fit',
  severity: 'caution',
  basis: 'A cable on the outside of a hinge is torn off when the bike is folded.',
  applies: ({ bike }) => bike.isFolding !== false,
  assess: ({ bike }) =>
    withKnown({ folds: want('bike', 'isFolding', 'whether the bike folds', bike.isFolding) }, () => ({
      state: 'by-hand',
      arithmetic: say`folding bike: cannot be calculated`,
      remedy: say`Lead motor and display cables along the side of the hinge, fold the bike once slowly, and confirm that nothing is pulled or pinched.`,
    })),
};
