// `npm run ledger -- verify` or `-- rebuild`: checks each business's proof chain and the state that follows from it. `--demo` for the demo's data.
import { command } from './prepare.mjs';

command('packages/server/dist/ledger-command.js', process.argv.slice(2));
