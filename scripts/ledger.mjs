// `npm run ledger -- verify`, `-- rebuild` or `-- stood 2027-03-01`: checks each proof chain and the state that follows from
// it, or says what the gate read of settings, ties and filings on a day. `--demo` for the demo’s data.
import { command } from './prepare.mjs';

command('packages/server/dist/ledger-command.js', process.argv.slice(2));
