// `npm run counts -- verify` or `-- rebuild`: holds what is counted as it changes against the rows, or counts it anew.
// `--demo` for the demo’s data.
import { command } from './prepare.mjs';

command('packages/server/dist/counts-command.js', process.argv.slice(2));
