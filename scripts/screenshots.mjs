import { compile, install, root, run } from './prepare.mjs';
import path from 'node:path';

install();
compile();
run(process.execPath, [path.join(root, 'e2e/dist/screenshots.js'), ...process.argv.slice(2)]);
