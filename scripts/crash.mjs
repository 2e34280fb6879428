// `npm run crash`: kills the server and the simulated outside at 200 seeded moments of a sending, and counts what went wrong.
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { compile, install, root } from './prepare.mjs';

install();
compile();
const { status } = spawnSync(process.execPath, [path.join(root, 'e2e/dist/crash.js'), ...process.argv.slice(2)], {
  cwd: root,
  stdio: 'inherit',
});
process.exit(status ?? 1);
