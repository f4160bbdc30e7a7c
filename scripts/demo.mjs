import { refuse, runScript, say } from './lib/say.mjs';

const url = process.env.EBRIX_URL || `http://127.0.0.1:${process.env.PORT || 4180}`;

/** Loads the demo data into a running, empty Ebrix. */
await runScript(async () => {
  const answer = await fetch(`${url}/api/demo`, { method: 'POST' }).catch(() =>
    refuse(`No Ebrix answers at ${url}. Start it first: npm start -- --empty`),
  );
  if (!answer.ok) refuse((await answer.json()).error.message);
  for (;;) {
    const { loading, problem } = await (await fetch(`${url}/api/demo`)).json();
    if (problem) refuse(problem);
    if (loading === null) break;
    await new Promise((resolve) => setTimeout(resolve, 500));
  }
  say(`The demo data is loaded: ${url}`);
});
