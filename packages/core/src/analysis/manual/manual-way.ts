import { say, type Sentence } from '../../units/index.js';
import { derivationQuantity as qty } from '../figure.js';
import type { TestContext } from '../test-context.js';
import type { ManualPass } from './manual-readings.js';

/** How far the passes went between start and finish, and how far the whole ride. */
export interface ManualWay {
  /** Of all timed passes together, m; undefined where it is not known how often the course was ridden in them. */
  readonly timedM: number | undefined;
  /** Of the ride with what was not timed, m. */
  readonly wholeM: number | undefined;
  /** How the length of the whole was counted. */
  readonly counted: Sentence;
  /** Why the length of the whole is not known, where laps and presses are there but do not agree. */
  readonly unclear?: string;
}

/** A round that is this much longer than the way between its gates is not the same way. */
const SAME_SHARE = 0.05;
const UNKNOWN: ManualWay = { timedM: undefined, wholeM: undefined, counted: [] };

/**
 * What was ridden by the course's length: each pass one time from gate to gate, or one pass over all the laps that were said.
 * Lap gates that were pressed have to fit the laps; where they do not, nobody knows how far it was.
 *
 * @param gateM between the gates, m
 */
export function manualWay(passes: readonly ManualPass[], gateM: number | undefined, context: TestContext): ManualWay {
  const { course } = context;
  if (!course || gateM === undefined || !(gateM > 0) || passes.length === 0) return UNKNOWN;
  const lapGates = course.lapGates ?? 0;
  const laps = Math.max(1, context.laps ?? 1);
  const fits = (rounds: number, { lapPresses }: ManualPass): boolean =>
    [0, rounds * lapGates, rounds * lapGates + rounds - 1].includes(lapPresses);
  const [first] = passes;
  if (passes.length === 1 && laps > 1 && course.isLoop && fits(laps, first!)) {
    const rounds = wholeRounds(laps, gateM, course.lengthM);
    return { timedM: rounds.wholeM, ...rounds };
  }
  const isOneEach = passes.every((pass) => fits(1, pass)) && (laps === 1 || passes.length > 1);
  if (!isOneEach) return { ...UNKNOWN, unclear: whyUnclear(passes, laps, course.isLoop) };
  const timedM = passes.length * gateM;
  // Said and timed do not agree: what was timed is known, how far the ride went is not.
  const isThereAndBack = !course.isLoop && passes.length === 2 * laps;
  if (laps > 1 && laps !== passes.length && !isThereAndBack)
    return {
      ...UNKNOWN,
      timedM,
      unclear: `${passes.length} passes were timed, and ${laps} laps are written for this run: how far it went is not known. Correct the laps, or write the trip distance.`,
    };
  if (course.isLoop && passes.length > 1 && course.lengthM > (1 + SAME_SHARE) * gateM) {
    // Between two passes lies the rest of the round, untimed and yet ridden; whether somebody turned round instead, the laps tell.
    if (laps > 1) return { timedM, ...wholeRounds(laps, gateM, course.lengthM) };
    return {
      ...UNKNOWN,
      timedM,
      unclear: `${passes.length} passes were timed over a part of a round, and how many laps it was is not written: how far it went is not known. Write the laps, or the trip distance.`,
    };
  }
  return { timedM, wholeM: timedM, counted: say`${passes.length} × ${qty(gateM / 1000, 'km')}` };
}

/** The gates lie apart by less than a round: all rounds but the last are whole ones. */
function wholeRounds(
  laps: number,
  gateM: number,
  lengthM: number,
): Pick<ManualWay, 'counted' | 'wholeM'> & { wholeM: number } {
  return {
    wholeM: (laps - 1) * lengthM + gateM,
    counted: say`${laps - 1} × ${qty(lengthM / 1000, 'km')} + ${qty(gateM / 1000, 'km')}`,
  };
}

function whyUnclear(passes: readonly ManualPass[], laps: number, isLoop: boolean): string {
  const presses = passes.reduce((sum, { lapPresses }) => sum + lapPresses, 0);
  if (presses === 0 && !isLoop)
    return `${laps} laps are written for this run, on a course that does not come round, and one pass was timed: how far that was is not known. Write the trip distance.`;
  const said = laps === 1 ? 'one lap is written for this run' : `${laps} laps are written for this run`;
  return `A lap gate was pressed ${presses === 1 ? 'once' : `${presses} times`} between start and finish, and ${said}: how far that was is not known. Correct the laps, or write the trip distance.`;
}
