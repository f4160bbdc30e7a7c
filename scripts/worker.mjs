import { buildChanged } from './lib/build.mjs';
import { installPackages } from './lib/install.mjs';
import { refuse, root, runScript } from './lib/say.mjs';

await runScript(async () => {
  if (!process.env.DATABASE_URL) refuse('A worker needs DATABASE_URL: the address of the database the server uses.');
  installPackages();
  buildChanged(['core', 'contract', 'server']);
  await import(`${root}/apps/server/dist/bundle/worker.js`);
});
