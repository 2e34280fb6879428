// `npm run backup -- <folder> --key <folder apart>`: a consistent copy, also while the server runs. `--demo` for the demo's data.
import { command } from './prepare.mjs';

command('packages/server/dist/backup-command.js', process.argv.slice(2));
