// npm run check: everything that is found without running the code.
import { ensureBuilt } from './setup/build.mjs';
import { check } from './setup/checks.mjs';
import { ensureNpmPackages } from './setup/npmPackages.mjs';
import { runScript } from './setup/setupProblem.mjs';

await runScript(async () => {
  ensureNpmPackages();
  // The kernels' modules are types as well.
  ensureBuilt({ web: false });
  await check();
});
