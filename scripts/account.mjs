import { buildChanged } from './lib/build.mjs';
import { installPackages } from './lib/install.mjs';
import { root, runScript } from './lib/say.mjs';
import { withDatabase } from './lib/with-database.mjs';

/** Who may come in, from the command line of the machine. */
await runScript(async () => {
  installPackages();
  buildChanged(['core', 'contract', 'server']);
  const { accountCommand } = await import(`${root}/apps/server/dist/accounts/command.js`);
  process.exitCode = await withDatabase(({ url }) => accountCommand(url, process.argv.slice(2)));
});
