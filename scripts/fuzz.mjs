// `npm run fuzz`: 10,000 seeded bad requests in every role; `npm run fuzz -- 50000 another-seed` for others.
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { compile, install, root } from './prepare.mjs';

install();
compile();
const { status } = spawnSync(
  process.execPath,
  [path.join(root, 'packages/server/dist/testing/fuzz-command.js'), ...process.argv.slice(2)],
  { cwd: root, stdio: 'inherit' },
);
process.exit(status ?? 1);
