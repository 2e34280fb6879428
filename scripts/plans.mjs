// `npm run plans [-- --contacts 10000]`: hears what the server's specs make it ask of the database, and prints how each
// statement is carried out beside so many contacts. Fails where one walks a large table it should not.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { compile, install, root, run } from './prepare.mjs';

install();
compile();
const dir = mkdtempSync(path.join(tmpdir(), 'long-gate-plans-'));
const heard = path.join(dir, 'statements.jsonl');
const listener = pathToFileURL(path.join(root, 'packages/server/dist/testing/statements.js')).href;
const specs = spawnSync(process.execPath, ['--import', listener, 'scripts/jasmine-run.mjs', 'packages/server'], {
  cwd: root,
  stdio: 'inherit',
  env: { ...process.env, LONG_GATE_STATEMENTS: heard },
});
if (specs.status !== 0) process.exit(specs.status ?? 1);
const asked = process.argv.indexOf('--contacts');
const contacts = asked < 0 ? '10000' : (process.argv[asked + 1] ?? '');
try {
  run(process.execPath, ['--import', listener, path.join(root, 'bench/dist/plans.js'), heard, '--contacts', contacts], {
    env: { ...process.env, LONG_GATE_STATEMENTS: heard },
  });
} finally {
  rmSync(dir, { recursive: true, force: true });
}
