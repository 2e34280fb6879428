// `npm run ledger -- verify` or `-- rebuild`: checks each business's proof chain and the state that follows from it.
import { compile, install, root, run } from './prepare.mjs';
import path from 'node:path';

install();
compile();
const demo = process.argv.includes('--demo');
run(process.execPath, [path.join(root, 'packages/server/dist/ledger-command.js'), process.argv[2] ?? 'verify'], {
  env: { ...process.env, LONG_GATE_DATA: process.env.LONG_GATE_DATA ?? path.join(root, 'data', demo ? 'demo' : 'own') },
});
