import { parseArgs } from 'node:util';
import { checkBox } from './serve-check.js';
import { runSimulatedLogger } from './simulated-logger.js';

const USAGE = `Usage: npm run logger -- --setup "Dromel D5" --course "Level round" [--pace 1] [--rate 5]
  --url       address of Ebrix (default http://127.0.0.1:4180)
  --ride      identifier of a ride: its setup, course and direction are taken
  --setup     a setup on the bench, by name (or the beginning of it)
  --course    a course, by name
  --logger    a logger on the bench that it speaks for (default "Simulated logger")
  --pace      1 to 60: how much faster than time it rides
  --rate      samples a second of the ride (default 5)
  --effort    throttle, light, steady or hard
  --drop      share of samples that are lost on the way, for example 0.01
  --cut       seconds after which the connection breaks once and comes back
  --drift     error of its clock, for example 0.0005
  --seed      whole number that all chance comes from
  --check     the other way round: stand in for Ebrix at this address, for example http://127.0.0.1:4190, point a box at it, and
              be told what the box does wrong; --seconds how long (default 60)
Where Ebrix has accounts, a tester's key in EBRIX_KEY lets it in.`;

const { values } = parseArgs({
  options: {
    url: { type: 'string', default: 'http://127.0.0.1:4180' },
    ride: { type: 'string' },
    setup: { type: 'string' },
    course: { type: 'string' },
    logger: { type: 'string', default: 'Simulated logger' },
    session: { type: 'string' },
    pace: { type: 'string', default: '1' },
    rate: { type: 'string', default: '5' },
    effort: { type: 'string' },
    drop: { type: 'string', default: '0' },
    cut: { type: 'string' },
    drift: { type: 'string', default: '0' },
    seed: { type: 'string' },
    check: { type: 'string' },
    seconds: { type: 'string', default: '60' },
    help: { type: 'boolean', default: false },
  },
});

if (values.help || (values.check === undefined && !values.ride && (!values.setup || !values.course))) {
  process.stdout.write(`${USAGE}\n`);
  process.exit(values.help ? 0 : 2);
}
// When Ebrix started it and is gone, nobody waits for this ride.
process.on('disconnect', () => process.exit(0));
// Its ride is over: it says goodbye and is gone.
const stop = new AbortController();
process.on('SIGTERM', () => stop.abort());
try {
  if (values.check !== undefined) await check(values.check, number(values.seconds, 'seconds', 5, 3600));
  await runSimulatedLogger(
    {
      url: values.url,
      ...(process.env['EBRIX_KEY'] && { key: process.env['EBRIX_KEY'] }),
      ...(values.ride !== undefined && { rideId: values.ride }),
      ...(values.setup !== undefined && { setup: values.setup }),
      ...(values.course !== undefined && { course: values.course }),
      logger: values.logger,
      session: values.session ?? `sim-${Date.now().toString(36)}`,
      pace: number(values.pace, 'pace', 1, 60),
      rateHz: number(values.rate, 'rate', 0.5, 50),
      ...(values.effort !== undefined && { effort: values.effort }),
      dropShare: number(values.drop, 'drop', 0, 0.9),
      ...(values.cut !== undefined && { cutAfterS: number(values.cut, 'cut', 0, 1e6) }),
      clockDrift: number(values.drift, 'drift', -0.02, 0.02),
      seed: values.seed === undefined ? Date.now() % 2 ** 31 : number(values.seed, 'seed', 0, 2 ** 31),
    },
    (text) => process.stdout.write(`${text}\n`),
    stop.signal,
  );
  process.exit(0);
} catch (error) {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
}

function number(text: string, name: string, low: number, high: number): number {
  const value = Number(text.replace(',', '.'));
  if (!(value >= low && value <= high))
    throw new Error(`--${name} must lie between ${low} and ${high}, not "${text}".`);
  return value;
}

/** Ends the program: 0 where nothing is wrong. */
async function check(address: string, seconds: number): Promise<never> {
  const at = URL.canParse(address) ? new URL(address) : undefined;
  if (at?.protocol !== 'http:') {
    process.stderr.write('--check takes an address to listen at, for example http://127.0.0.1:4190\n');
    process.exit(2);
  }
  const port = at.port === '' ? 80 : Number(at.port);
  const { right, wrong, untried } = await checkBox({ host: at.hostname, port, seconds }, (open) =>
    process.stdout.write(
      `Point the box at http://${at.hostname}:${open}; this takes ${seconds} s, or until it says bye.\n`,
    ),
  );
  for (const line of right) process.stdout.write(`  ${line}\n`);
  for (const line of wrong) process.stdout.write(`Wrong: ${line}\n`);
  for (const line of untried) process.stdout.write(`Not tried: ${line}.\n`);
  process.stdout.write(wrong.length === 0 ? 'Nothing wrong was found.\n' : '');
  process.exit(wrong.length === 0 ? 0 : 1);
}
