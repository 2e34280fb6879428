import { buildWeb, compile, install, root, run } from './prepare.mjs';
import path from 'node:path';

install();
compile();
// The rules by themselves, `--contacts 10000,100000,1000000`: the whole application at those sizes, `--screen`: the
// interface of the application that runs, or `--intake 1000000`: a file of so many rows through the browser.
const which = ['screen', 'contacts', 'intake'].find((x) => process.argv.includes(`--${x}`)) ?? 'rules';
const FILES = { screen: 'screen', contacts: 'scale', intake: 'screen-intake', rules: 'rules' };
if (which === 'intake') await buildWeb();
run(process.execPath, [path.join(root, `bench/dist/${FILES[which]}.js`), ...process.argv.slice(2)]);
