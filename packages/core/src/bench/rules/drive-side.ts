import { isFrontHub, isHub, type ConvertedSetup } from '../facts.js';
import { isAtLeast, verdict, want, withKnown, type Assessment, type Rule } from '../rule.js';
import { amount, say } from '../../units/index.js';

/** Room for the chain on the largest cog beside the motor's cover. */
export const MOTOR_CLEARANCE_MM = 2;
/** Room for the chain on the smallest cog, and for it to swing, beside the frame. */
export const FRAME_CLEARANCE_MM = 4;

const isRearHub = ({ kit }: ConvertedSetup): boolean => isHub(kit) && !isFrontHub(kit);

interface DriveSide {
  readonly space: number;
  readonly washers: number;
  readonly stack: number;
  readonly spacer: number;
  readonly count: number;
}
function withDriveSide({ bike, kit, fit }: ConvertedSetup, assess: (known: DriveSide) => Assessment): Assessment {
  return withKnown(
    {
      space: want('kit', 'cogSpaceMm', 'clearance from motor cover to axle face', kit.cogSpaceMm),
      washers: want('fit', 'washersRightMm', 'inner washers, right', fit.washersRightMm),
      stack: want('bike', 'cogStackMm', 'width of the cog stack', bike.cogStackMm),
      spacer: want('fit', 'cogSpacerMm', 'thickness of one cog spacer', fit.cogSpacerMm),
      count: want('fit', 'cogSpacers', 'number of cog spacers', fit.cogSpacers),
    },
    assess,
  );
}

/** Number of spacers behind the cogs that keeps the chain off both the motor and the frame; undefined when none does. */
export function spacersWanted(space: number, washers: number, stack: number, spacer: number): number | undefined {
  const least = spacer > 0 ? Math.ceil(MOTOR_CLEARANCE_MM / spacer - 1e-9) : 0;
  const rest = space + washers - stack - least * spacer;
  return spacer > 0 && isAtLeast(rest, FRAME_CLEARANCE_MM) ? least : undefined;
}

export const CHAIN_TO_MOTOR: Rule = {
  id: 'chain-to-motor',
  title: 'Chain clear of the motor',
  group: 'fit',
  severity: 'caution',
  basis: 'Spacers behind the cogs keep the chain on the largest cog 2 mm off the motor’s cover.',
  applies: isRearHub,
  assess: (setup) =>
    withDriveSide(setup, ({ space, washers, stack, spacer, count }) => {
      const gap = spacer * count;
      const wanted = spacersWanted(space, washers, stack, spacer);
      return verdict(
        isAtLeast(gap, MOTOR_CLEARANCE_MM),
        say`${count} × ${amount(spacer, 'mm')} spacers = ${amount(gap, 'mm')} between cover and largest cog; at least ${amount(MOTOR_CLEARANCE_MM, 'mm')}`,
        wanted === undefined
          ? say`The cogs are too wide for any number of spacers: see “Cog stack against the space beside the motor”.`
          : say`Put ${wanted} such spacers behind the cogs.`,
      );
    }),
};

export const CHAIN_TO_FRAME: Rule = {
  id: 'chain-to-frame',
  title: 'Chain clear of the frame',
  group: 'fit',
  severity: 'caution',
  basis: 'What is left of the room beside the motor after spacers and cogs: 4 mm for the chain on the smallest cog.',
  applies: isRearHub,
  assess: (setup) =>
    withDriveSide(setup, ({ space, washers, stack, spacer, count }) => {
      const gap = space + washers - stack - spacer * count;
      return verdict(
        isAtLeast(gap, FRAME_CLEARANCE_MM),
        say`${amount(space, 'mm')} room + ${amount(washers, 'mm')} washers − ${amount(stack, 'mm')} cogs − ${amount(spacer * count, 'mm')} spacers = ${amount(gap, 'mm', 3)} to the frame; at least ${amount(FRAME_CLEARANCE_MM, 'mm')}`,
        say`Add ${amount(FRAME_CLEARANCE_MM - gap, 'mm', 3)} of washers on the right (mind the dropout width), remove a spacer, or use narrower cogs.`,
      );
    }),
};

export const COG_WIDTH: Rule = {
  id: 'cog-width',
  title: 'Cog stack against the space beside the motor',
  group: 'fit',
  severity: 'stop',
  basis: 'Cogs, 2 mm to the motor and 4 mm to the frame have to find room beside the motor, washers counted.',
  applies: isRearHub,
  assess: (setup) =>
    withDriveSide(setup, ({ space, washers, stack, spacer }) => {
      const need = stack + MOTOR_CLEARANCE_MM + FRAME_CLEARANCE_MM;
      const wanted = spacersWanted(space, washers, stack, spacer);
      return verdict(
        isAtLeast(space + washers, need),
        say`${amount(stack, 'mm')} cogs + ${amount(MOTOR_CLEARANCE_MM, 'mm')} + ${amount(FRAME_CLEARANCE_MM, 'mm')} clearances = ${amount(need, 'mm')}; there are ${amount(space + washers, 'mm')}${wanted === undefined ? '' : `, with ${wanted} spacers`}`,
        say`The freewheel or cassette is ${amount(need - space - washers, 'mm', 3)} too wide: use fewer cogs, or a motor with more room on this side.`,
      );
    }),
};

export const COG_MOUNT: Rule = {
  id: 'cog-mount',
  title: 'Cogs fit the motor’s mount',
  group: 'fit',
  severity: 'stop',
  basis: 'A screwed freewheel and a splined cassette do not go on one another’s mount.',
  applies: isRearHub,
  assess: ({ bike, kit }) =>
    withKnown(
      {
        bikeMount: want('bike', 'cogMount', 'freewheel or cassette', bike.cogMount),
        motorMount: want('kit', 'cogMount', 'what the motor takes: freewheel or cassette', kit.cogMount),
      },
      ({ bikeMount, motorMount }) => {
        // A single cog is screwed on like a freewheel.
        const wanted = bikeMount === 'single' ? 'freewheel' : bikeMount;
        return verdict(
          wanted === motorMount,
          say`bike: ${bikeMount}; motor takes: ${motorMount}`,
          bikeMount === 'hub-gear'
            ? say`The gears in the hub go with the old wheel. A mid motor keeps them.`
            : say`Buy ${motorMount === 'none' ? 'a motor that takes cogs' : `a ${motorMount} of the same number of cogs`}, and check its width here.`,
        );
      },
    ),
};
