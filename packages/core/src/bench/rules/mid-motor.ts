import { isHub, type ConvertedSetup } from '../facts.js';
import { isAtLeast, isAtMost, verdict, want, withKnown, type Rule } from '../rule.js';
import { amount, say } from '../../units/index.js';

/** What a nut on the other side takes up. */
export const SPINDLE_SLACK_MM = 1;
/** A chain runs this far out of line without wearing fast: over several cogs, and on a single one. */
export const CHAIN_LINE_LIMIT_MM = { derailleur: 5, single: 2 } as const;

const isMid = ({ kit }: ConvertedSetup): boolean => !isHub(kit);

export const SHELL_KIND: Rule = {
  id: 'shell-kind',
  title: 'Bottom-bracket shell for the mid motor',
  group: 'fit',
  severity: 'stop',
  basis: 'A mid motor clamps in the shell it was made for.',
  applies: isMid,
  assess: ({ bike, kit }) =>
    withKnown(
      {
        shell: want('bike', 'shellKind', 'kind of bottom-bracket shell', bike.shellKind),
        takes: want(
          'kit',
          'shellKinds',
          'shells the motor is made for',
          kit.shellKinds.length > 0 ? kit.shellKinds : null,
        ),
      },
      ({ shell, takes }) =>
        verdict(
          takes.includes(shell),
          say`bike: ${shell} shell; motor made for: ${takes.join(', ')}`,
          say`An adapter made for this shell may help; without one the motor turns in the frame under load.`,
        ),
    ),
};

export const SHELL_WIDTH: Rule = {
  id: 'shell-width',
  title: 'Spindle, shell width and spacers',
  group: 'fit',
  severity: 'stop',
  basis:
    'Shells are 68, 73, 100 or 120 mm wide. The spindle has to be as long, and spacers fill what is left to within 1 mm.',
  applies: isMid,
  assess: ({ bike, kit, fit }) =>
    withKnown(
      {
        shell: want('bike', 'shellWidthMm', 'width of the bottom-bracket shell', bike.shellWidthMm),
        spindle: want('kit', 'shellWidthMm', 'longest shell the motor takes', kit.shellWidthMm),
        spacer: want('fit', 'shellSpacerMm', 'thickness of one shell spacer', fit.shellSpacerMm),
        count: want('fit', 'shellSpacers', 'number of shell spacers', fit.shellSpacers),
      },
      ({ shell, spindle, spacer, count }) => {
        const left = spindle - shell - spacer * count;
        const wanted = spacer > 0 ? Math.floor((spindle - shell) / spacer + 1e-9) : 0;
        return verdict(
          isAtLeast(left, 0) && isAtMost(left, SPINDLE_SLACK_MM),
          say`${amount(spindle, 'mm')} spindle − ${amount(shell, 'mm')} shell − ${count} × ${amount(spacer, 'mm')} spacers = ${amount(left, 'mm', 3)}; should be 0 to ${amount(SPINDLE_SLACK_MM, 'mm')}`,
          spindle < shell
            ? say`The shell is ${amount(shell - spindle, 'mm', 3)} too wide for this motor: choose the version for ${amount(shell, 'mm')}.`
            : say`Use ${wanted} spacers of ${amount(spacer, 'mm')}, or thinner ones that fill ${amount(spindle - shell, 'mm', 3)}.`,
        );
      },
    ),
};

export const CHAIN_LINE: Rule = {
  id: 'chain-line',
  title: 'Chain line',
  group: 'fit',
  severity: 'caution',
  basis:
    'Chainring against the middle of the cogs: up to 5 mm with several cogs, 2 mm with a single one or gears in the hub.',
  applies: isMid,
  assess: ({ bike, kit, fit }) =>
    withKnown(
      {
        rear: want('bike', 'chainLineMm', 'chain line at the rear', bike.chainLineMm),
        front: want('kit', 'chainLineMm', 'chain line of the motor’s chainring', fit.chainLineMm ?? kit.chainLineMm),
        mount: want('bike', 'cogMount', 'freewheel or cassette', bike.cogMount),
      },
      ({ rear, front, mount }) => {
        const limit = CHAIN_LINE_LIMIT_MM[mount === 'freewheel' || mount === 'cassette' ? 'derailleur' : 'single'];
        const off = front - rear;
        return verdict(
          isAtMost(Math.abs(off), limit),
          say`${amount(front, 'mm')} at the chainring − ${amount(rear, 'mm')} at the cogs = ${amount(off, 'mm', 3)} out of line; up to ${amount(limit, 'mm')}`,
          say`Move the chainring ${off > 0 ? 'inward' : 'outward'} by ${amount(Math.abs(off), 'mm', 3)}: a dished chainring, or spacers on the other side of the shell.`,
        );
      },
    ),
};
