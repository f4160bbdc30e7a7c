import { buildChanged } from './lib/build.mjs';
import { installPackages } from './lib/install.mjs';
import { runScript } from './lib/say.mjs';

await runScript(() => {
  installPackages();
  buildChanged();
});
