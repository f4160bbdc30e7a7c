import type { CleanLog } from '../../logs/index.js';
import { firstAtOrAfter } from '../../numeric/index.js';
import { clippedAt } from '../../signal/index.js';
import type { Contribution } from '../figure.js';
import { beyondClip, beyondTail, FEWEST_SIGNS, type BeyondClip } from './beyond-clip.js';
import { withoutStuck } from './stuck-sensor.js';

/** A log in whose current (or power) what the sensor at its end did not show is put in; `beyond` says how much, undefined where it was not. */
export interface ShownLog {
  readonly log: CleanLog;
  readonly beyond: BeyondClip | undefined;
}

const known = new WeakMap<CleanLog, ShownLog>();

/**
 * The log to sum up power and current of. Where the voltage told what was hidden, a sensor that stood at its end for long was at work and not
 * stuck; where nothing told, what stood still counts for nothing as before. The same log gives the same answer, worked out once.
 */
export function withHidden(log: CleanLog): ShownLog {
  const before = known.get(log);
  if (before) return before;
  const found = lookAt(log);
  known.set(log, found);
  return found;
}

function lookAt(log: CleanLog): ShownLog {
  const { timeS, channels, hasClock } = log;
  const { current, voltage, power } = channels;
  if (!hasClock) return { log, beyond: undefined };
  if (current && voltage) {
    const told = beyondClip(timeS, current, voltage);
    if (!told || told.addedShare === 0) return { log, beyond: told };
    if (told.isTold) return { log: shown(atWork(log, 'current', told.end), 'current', told.values), beyond: told };
  }
  const name = current ? 'current' : power ? 'power' : undefined;
  if (!name) return { log, beyond: undefined };
  // Beside volts that only tell too little, few signs are enough; a power or a current alone may be a controller's limit.
  const end = clippedAt(moving(log, name), current && voltage ? FEWEST_SIGNS : undefined);
  if (end === undefined) return { log, beyond: undefined };
  // Met again and again elsewhere, it is the sensor's end, and where it stood there for long it was not stuck.
  const working = atWork(log, name, end);
  const beyond = beyondTail(timeS, moving(working, name), end);
  return { log: shown(working, name, beyond.values), beyond };
}

type Summed = 'current' | 'power';
const moving = ({ timeS, channels, report }: CleanLog, name: Summed): Float64Array =>
  withoutStuck(timeS, channels[name]!, report, name);
const shown = (log: CleanLog, name: Summed, values: Float64Array): CleanLog => ({
  ...log,
  channels: { ...log.channels, [name]: values },
});
/** The log in which standing at this reading is not being stuck. */
function atWork(log: CleanLog, name: Summed, end: number): CleanLog {
  const stuck = log.report.stuck.filter(
    ({ channel, startS }) => channel !== name || log.channels[name]![firstAtOrAfter(log.timeS, startS)] !== end,
  );
  return { ...log, report: { ...log.report, stuck } };
}

/** What a sensor at its end leaves open of a sum over the ride. */
export function beyondSensor(beyond: BeyondClip | undefined, sum: number): Contribution[] {
  if (!beyond) return [];
  return [
    {
      source: 'what the sensor at its end did not show',
      standardUncertainty: beyond.uncertaintyShare * Math.abs(sum),
    },
  ];
}
