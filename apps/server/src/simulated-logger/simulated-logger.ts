import { knownProfile } from '@ebrix/core/courses';
import { seededRandom } from '@ebrix/core/numeric';
import { airDensityKgPerM3 } from '@ebrix/core/physics';
import {
  EFFORTS,
  modelFromFacts,
  readSensors,
  rideCourseOf,
  simulateRide,
  type Effort,
  type RideTrace,
} from '@ebrix/core/ride-model';
import type { Course, Ride, Setup, SetupDetail } from '@ebrix/contract';
import { ProtocolSender } from './protocol-sender.js';

export interface SimulatedLoggerOptions {
  readonly url: string;
  /** A key of an account, once there are accounts. */
  readonly key?: string;
  readonly rideId?: string;
  readonly setup?: string;
  readonly course?: string;
  readonly logger: string;
  readonly session: string;
  readonly pace: number;
  readonly rateHz: number;
  readonly effort?: string;
  readonly dropShare: number;
  readonly cutAfterS?: number;
  readonly clockDrift: number;
  readonly seed: number;
}

const CHANNELS = [
  'speed',
  'distance',
  'altitude',
  'voltage',
  'current',
  'motorTemperature',
  'cadence',
  'stateOfCharge',
] as const;
/** Standing before the start and after the finish, s. */
const STANDING_S = 4;
const STEP_S = 0.02;
const TICK_MS = 50;
/** A course's dwellings are not known: the bike stops once, so that the log is no straight line. */
const AIR_C = 15;

/** Rides the ride model until it is over or `stop` is given, and tells what a logger would have measured, in the open protocol and by no other door. */
export async function runSimulatedLogger(
  options: SimulatedLoggerOptions,
  say: (text: string) => void,
  stop: AbortSignal,
): Promise<void> {
  const { trace, title } = await simulated(options);
  say(`${title}: ${Math.round(trace.timeS.at(-1)!)} s of riding at ${options.pace} times the speed of time`);
  const random = seededRandom(options.seed);
  const sender = new ProtocolSender(`${options.url.replace(/^http/, 'ws')}/api/logger/stream`, {
    protocol: 1,
    logger: options.logger,
    ...(options.key !== undefined && { secret: options.key }),
    session: options.session,
    channels: CHANNELS,
    units: { stateOfCharge: '%' },
    pace: options.pace,
  });
  await sender.connect();
  const samples = trace.timeS.length;
  const standing = Math.round(STANDING_S * options.rateHz);
  const total = samples + 2 * standing;
  const begin = Date.now();
  let cutAt = options.cutAfterS;
  for (let n = 0; n < total && !stop.aborted;) {
    const rideS = ((Date.now() - begin) / 1000) * options.pace;
    if (cutAt !== undefined && rideS > cutAt) {
      cutAt = undefined;
      sender.breakConnection();
    }
    while (n < total && n / options.rateHz <= rideS) {
      const k = Math.min(samples - 1, Math.max(0, n - standing));
      const isStanding = n < standing || n >= standing + samples;
      const reading = readSensors(trace, k, random);
      const lost = random() < options.dropShare;
      const t = Number(((n / options.rateHz) * (1 + options.clockDrift)).toFixed(4));
      if (!lost)
        sender.send([
          n,
          t,
          ...CHANNELS.map((name) =>
            isStanding && (name === 'speed' || name === 'current' || name === 'cadence') ? 0 : (reading[name] ?? null),
          ),
        ]);
      n++;
    }
    await new Promise((resolve) => setTimeout(resolve, TICK_MS));
  }
  await sender.end();
  say(`sent ${sender.sent} samples${sender.reconnects > 0 ? `, connected again ${sender.reconnects} times` : ''}`);
}

async function simulated(options: SimulatedLoggerOptions): Promise<{ trace: RideTrace; title: string }> {
  const get = async <T>(path: string): Promise<T> => {
    const headers = options.key === undefined ? {} : { authorization: `Bearer ${options.key}` };
    const response = await fetch(`${options.url}/api/${path}`, { headers }).catch(() => {
      throw new Error(`No Ebrix answers at ${options.url}. Start it with npm start.`);
    });
    const body = (await response.json()) as T & { error?: { message: string } };
    if (!response.ok) throw new Error(body.error?.message ?? `Ebrix answered ${response.status}.`);
    return body;
  };
  const named = async (kind: string, path: string, word: string): Promise<string> => {
    const list = await get<(Course | Setup)[]>(path);
    const found =
      list.find(({ name }) => name.toLowerCase() === word.toLowerCase()) ??
      list.find(({ name }) => name.toLowerCase().startsWith(word.toLowerCase()));
    if (!found)
      throw new Error(`There is no ${kind} "${word}". There are: ${list.map(({ name }) => name).join('; ')}.`);
    return found.id;
  };
  const ride = options.rideId === undefined ? undefined : await get<Ride>(`rides/${options.rideId}`);
  const setup = await get<SetupDetail>(`setups/${ride?.setup.id ?? (await named('setup', 'setups', options.setup!))}`);
  const course = await get<Course>(`courses/${ride?.course.id ?? (await named('course', 'courses', options.course!))}`);
  const revision = setup.revisions.find(({ id }) => id === ride?.setup.revisionId) ?? setup.revisions[0]!;
  const { kit } = revision.parts;
  if (!kit) throw new Error(`${setup.name} has no kit: there is no motor to simulate.`);
  const effort = options.effort ?? ride?.effort ?? 'steady';
  if (!(effort in EFFORTS)) throw new Error(`--effort must be one of ${Object.keys(EFFORTS).join(', ')}.`);
  const { model } = modelFromFacts(
    { ...revision.parts, kit, settings: revision.settings, fit: revision.fit },
    { effort: effort as Effort, level: ride?.level ? ride.level : null, targetSpeedKmh: null },
  );
  const random = seededRandom(options.seed);
  // Nobody rides twice alike.
  const about = (value: number, share: number): number => value * (1 + share * (2 * random() - 1));
  const varied = {
    ...model,
    rider: {
      ...model.rider,
      powerW: about(model.rider.powerW, 0.06),
      targetSpeedMps: about(model.rider.targetSpeedMps, 0.015),
    },
    bike: { ...model.bike, dragAreaM2: about(model.bike.dragAreaM2, 0.02) },
  };
  const airC = ride?.preparation.airTemperatureC ?? AIR_C;
  const shape = { lengthM: course.lengthM ?? 3000, profile: knownProfile(course) ?? null };
  const { trace } = simulateRide(
    varied,
    rideCourseOf(shape, ride?.direction ?? 1),
    {
      airDensity: airDensityKgPerM3(airC),
      airTemperatureC: airC,
      windMps: ride?.preparation.windMps ?? 1,
      startStateOfCharge: 0.98,
      startMotorC: airC,
    },
    { stepS: STEP_S, recordHz: options.rateHz, laps: ride?.laps ?? 1, timeLimitS: 4 * 3600 },
  );
  return { trace, title: `${setup.name} on ${course.name}` };
}
