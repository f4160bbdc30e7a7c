import { buildChanged } from './lib/build.mjs';
import { installPackages } from './lib/install.mjs';
import { root, runScript } from './lib/say.mjs';

/** The simulated logger: a program of its own that speaks the open protocol to a running Ebrix. */
await runScript(async () => {
  installPackages();
  buildChanged(['core', 'contract', 'server']);
  await import(`${root}/apps/server/dist/bundle/simulated-logger/main.js`);
});
