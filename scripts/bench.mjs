import { compile, install, root, run } from './prepare.mjs';
import path from 'node:path';

install();
compile();
// The rules by themselves, `--contacts 10000,100000,1000000`: the whole application at those sizes, or `--screen`: the
// interface of the application that runs.
const which = process.argv.includes('--screen') ? 'screen' : process.argv.includes('--contacts') ? 'scale' : 'rules';
run(process.execPath, [path.join(root, `bench/dist/${which}.js`), ...process.argv.slice(2)]);
