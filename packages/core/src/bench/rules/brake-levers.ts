import { verdict, want, withKnown, type Rule } from '../rule.js';
import { say } from '../../units/index.js';

/** Which switch goes with which lever; the cut itself is tried on the stand before anyone rides. */
export const BRAKE_SWITCH: Rule = {
  id: 'brake-switch',
  title: 'Brake switches for these levers',
  group: 'fit',
  severity: 'caution',
  basis:
    'Levers with a switch replace levers that pull a cable. Hydraulic levers and levers in one piece with a shifter stay: they take a sensor in the cable, or a magnet stuck to the lever.',
  applies: ({ kit }) => kit.brakeSwitches !== 'none',
  assess: ({ bike, kit, addOns }) =>
    withKnown(
      {
        lever: want('bike', 'brakeLever', 'kind of brake levers', bike.brakeLever, {
          value: 'cable' as const,
          why: 'plain levers with a cable, as most bikes have',
        }),
        switches: want('kit', 'brakeSwitches', 'kind of brake switches', kit.brakeSwitches),
      },
      ({ lever, switches }) => {
        const hasSensors = switches === 'in-line' || addOns.some(({ kind }) => kind === 'brake-switches');
        const words = {
          cable: 'plain cable levers',
          hydraulic: 'hydraulic levers',
          combined: 'levers in one piece with the shifter',
        };
        const arithmetic = say`${words[lever]}; ${hasSensors ? 'sensors that leave the levers as they are' : 'levers with switches'}`;
        if (lever === 'cable') return verdict(true, arithmetic);
        if (!hasSensors)
          return verdict(
            false,
            arithmetic,
            lever === 'hydraulic'
              ? say`Keep the hydraulic levers and fit magnet sensors to them; levers for a cable do not pull a hydraulic brake.`
              : say`Keep the levers and put in-line sensors into the cables; else the shifter goes with the lever.`,
          );
        return lever === 'combined'
          ? verdict(true, arithmetic)
          : {
              state: 'by-hand',
              arithmetic,
              remedy: say`A hose has no cable for an in-line sensor: it has to be a magnet beside the lever. Look that it is, and that it cuts on both sides.`,
            };
      },
    ),
};
