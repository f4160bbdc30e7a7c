import { frameShape, roomAlong } from '../frame-room.js';
import type { ConvertedSetup } from '../facts.js';
import { isAtLeast, verdict, want, withKnown, type Rule } from '../rule.js';
import { amount, say } from '../../units/index.js';
import { packPlace } from '../total-mass.js';

/** A pack slides along its rail to come off: 50 to 70 mm, by the mount. */
export const REMOVAL_ROOM_MM = 60;

const inFrame = ({ packs }: ConvertedSetup) => packs.filter((pack) => packPlace(pack) === 'frame');

export const BATTERY_ROOM: Rule = {
  id: 'battery-room',
  title: 'Battery in the frame, with room to take it out',
  group: 'fit',
  severity: 'caution',
  basis:
    'Longest strip of rail and pack height inside the frame’s four corners against pack length + 60 mm to slide it out (mounts want 50 to 70).',
  applies: (setup) => inFrame(setup).length > 0,
  assess: (setup) => {
    const [pack, ...others] = inFrame(setup);
    const { frame } = setup.bike;
    if (others.length > 0)
      return {
        state: 'by-hand',
        arithmetic: say`${others.length + 1} packs in one frame: the drawing holds one only`,
        remedy: say`Hold both packs in place, with room to take each out, and confirm.`,
      };
    return withKnown(
      {
        seatTubeMm: want('bike', 'frame.seatTubeMm', 'seat tube, inside', frame?.seatTubeMm),
        topTubeMm: want('bike', 'frame.topTubeMm', 'top tube, inside', frame?.topTubeMm),
        headTubeMm: want('bike', 'frame.headTubeMm', 'head tube, inside', frame?.headTubeMm),
        downTubeMm: want('bike', 'frame.downTubeMm', 'down tube, inside', frame?.downTubeMm),
        diagonalMm: want('bike', 'frame.diagonalMm', 'diagonal of the frame', frame?.diagonalMm),
        length: want('pack', 'lengthMm', 'length of the pack', pack!.lengthMm),
        height: want('pack', 'heightMm', 'height of the pack', pack!.heightMm),
        rail: want('pack', 'railMm', 'height of its rail', pack!.railMm),
        tube: want('fit', 'batteryTube', 'tube the pack sits on', setup.fit.batteryTube),
      },
      ({ length, height, rail, tube, ...measures }) => {
        const shape = frameShape(measures);
        if (!shape.ok)
          return verdict(
            false,
            say`the five lengths of the frame do not close to a shape`,
            say`Measure the frame again: four sides between the inside corners, and the diagonal from the bottom bracket to the top of the head tube.`,
          );
        const room = roomAlong(shape.value, tube, rail, height);
        const free = room.ok ? room.value.freeMm : 0;
        const wanted = length + REMOVAL_ROOM_MM;
        const where = tube.replace('-', ' ');
        return verdict(
          isAtLeast(free, wanted),
          say`${amount(free, 'mm', 3)} free along the ${where} for a height of ${amount(rail + height, 'mm', 3)}; ${amount(length, 'mm')} pack + ${amount(REMOVAL_ROOM_MM, 'mm')} to slide it out = ${amount(wanted, 'mm', 3)}`,
          say`${amount(wanted - free, 'mm', 3)} are missing: try the other tube, a flatter or shorter pack, or the rack.`,
        );
      },
    );
  },
};

export const BATTERY_MOUNT: Rule = {
  id: 'battery-mount',
  title: 'Holes for the battery mount',
  group: 'fit',
  severity: 'caution',
  basis: 'A rail is screwed to bottle bosses; without them rivet nuts, straps or glue have to carry it.',
  applies: (setup) => inFrame(setup).length > 0,
  assess: (setup) => {
    const pack = inFrame(setup)[0]!;
    return withKnown(
      {
        points: want('bike', 'mountPoints', 'whether the frame has bottle bosses', setup.bike.mountPoints),
        mount: want('pack', 'mountKind', 'battery mount', pack.mountKind),
      },
      ({ points, mount }) =>
        verdict(
          mount !== 'bosses' || points === 'bosses',
          say`pack held by ${mount}; frame ${points === 'bosses' ? 'has bottle bosses' : 'has no bosses'}`,
          say`Set rivet nuts (steel and aluminium only, not in thin or carbon tubes), or use a strapped mount and a second strap.`,
        ),
    );
  },
};
