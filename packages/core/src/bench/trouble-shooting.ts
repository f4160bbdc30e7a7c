/** A cause to look for, likeliest first, and how to tell. */
export interface Suspect {
  readonly id: string;
  readonly cause: string;
  readonly look: string;
  readonly caution: string;
}
export interface Symptom {
  readonly id: string;
  readonly name: string;
  readonly suspects: readonly Suspect[];
}
const suspect = (id: string, cause: string, look: string, caution = ''): Suspect => ({ id, cause, look, caution });
const OFF = 'Battery off and disconnected first.';

/** What to open by symptom, in the order of likelihood that testers meet. */
export const SYMPTOMS: readonly Symptom[] = [
  {
    id: 'noise',
    name: 'Noise from the hub or the drive',
    suspects: [
      suspect(
        'loose-cable',
        'Motor cable loose or too tight at the axle',
        'Hold the cable and turn the wheel by hand: the noise changes.',
        OFF,
      ),
      suspect(
        'chain-rub',
        'Chain touches motor cover or frame',
        'Smallest and largest cog, backpedal slowly, look from behind.',
      ),
      suspect(
        'disc-bolts',
        'Disc bolts touch the motor cover',
        'Loosen the disc bolts half a turn: the wheel turns freely.',
        'Do not ride with loose disc bolts.',
      ),
      suspect('spokes', 'Spokes settling', 'Pluck them in pairs; retension after the first 50 km.'),
      suspect(
        'gears',
        'Worn or dry gears in a geared hub',
        'A grinding that grows with load; open only with the motor cold.',
        OFF,
      ),
      suspect(
        'phase',
        'Phase and position wires do not match',
        'Rough running under load and high no-load current.',
        OFF,
      ),
    ],
  },
  {
    id: 'cut-outs',
    name: 'Cuts out while riding',
    suspects: [
      suspect(
        'protection',
        'The BMS trips',
        'Comes with a climb or a start; the pack is dead until it is switched off and on.',
      ),
      suspect('low-voltage', 'Low-voltage cut-off', 'Late in the charge or in the cold; the voltage sags under load.'),
      suspect(
        'plug',
        'A plug not pushed home',
        'Wiggle each plug with the wheel off the ground.',
        'Hands clear of the wheel.',
      ),
      suspect(
        'brake-switch',
        'Brake switch does not open again',
        'Unplug one switch at a time on the stand.',
        'Ride again only with all switches back.',
      ),
      suspect('heat', 'Motor or controller too hot', 'Comes after minutes of load and goes with cooling.'),
      suspect(
        'battery-contact',
        'Battery contacts worn or moving',
        'Press the pack in its mount; look for black marks.',
        OFF,
      ),
    ],
  },
  {
    id: 'no-start',
    name: 'Does not start',
    suspects: [
      suspect(
        'pack-off',
        'Pack off, empty or its fuse blown',
        'Measure at the discharge plug.',
        'Do not bridge a fuse.',
      ),
      suspect('display-plug', 'Display plug', 'Arrow to arrow, no bent pin.'),
      suspect(
        'brake-switch',
        'A brake switch stays closed',
        'Unplug both on the stand.',
        'Ride again only with all switches back.',
      ),
      suspect('crank-sensor', 'Crank sensor does not see its magnets', 'Gap, side and direction of turning.'),
      suspect('speed-sensor', 'Speed sensor gives nothing', 'Magnet passes the mark within its gap.'),
      suspect('motor-plug', 'Motor plug', 'Push it home to the line, without turning.', OFF),
    ],
  },
  {
    id: 'error-at-start',
    name: 'Error shown at the start',
    suspects: [
      suspect('throttle', 'Throttle not at rest', 'Let it go back, switch off and on.'),
      suspect('brake-pulled', 'Brake pulled while switching on', 'Let go, switch off and on.'),
      suspect(
        'voltage',
        'Voltage outside what the controller takes',
        'Measure; compare with the check of nominal voltage.',
      ),
      suspect('position', 'Position sensor of the motor', 'Plug and cable at the axle.', OFF),
      suspect('pairing', 'Display and controller do not match', 'Same maker’s pair, same version.'),
    ],
  },
  {
    id: 'speed-off',
    name: 'Speed reads wrong',
    suspects: [
      suspect('wheel-size', 'Wheel size set wrong', 'Roll-out on the stand page against the setting.'),
      suspect('units', 'Miles for kilometres', 'The factor is 1.6.'),
      suspect('magnets', 'Number of magnets set wrong', 'Reads a whole multiple of the true speed.'),
      suspect('gear-ratio', 'Motor counts its rotor, not the wheel', 'Set the gear ratio of a geared hub.'),
    ],
  },
];
