/** Plain messages on the terminal, and the one way a script gives up. */
export const root = new URL('../../', import.meta.url).pathname.replace(/\/$/, '');

export function say(text) {
  process.stdout.write(`${text}\n`);
}

/** A problem whose message is for the person at the terminal; no stack trace is shown. */
export class PlainProblem extends Error {}

export function refuse(text) {
  throw new PlainProblem(text);
}

/** Runs a script's main function; plain problems end it with exit code 1 and their message alone. */
export async function runScript(main) {
  try {
    await main();
  } catch (error) {
    process.stderr.write(error instanceof PlainProblem ? `\n${error.message}\n` : `\n${error.stack ?? error}\n`);
    process.exit(1);
  }
}
