import { compile, install, root, run } from './prepare.mjs';
import path from 'node:path';

install();
compile();
// The rules by themselves, or `--contacts 10000,100000,1000000`: the whole application at those sizes.
const which = process.argv.includes('--contacts') ? 'scale' : 'rules';
run(process.execPath, [path.join(root, `bench/dist/${which}.js`), ...process.argv.slice(2)]);
