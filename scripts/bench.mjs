import { compile, install, root, run } from './prepare.mjs';
import path from 'node:path';

install();
compile();
run(process.execPath, [path.join(root, 'bench/dist/bench.js'), ...process.argv.slice(2)]);
