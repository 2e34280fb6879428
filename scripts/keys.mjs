// `npm run keys -- renew`: seals everything under a new key, with the server off. `--demo` for the demo's data.
import { command } from './prepare.mjs';

command('packages/server/dist/keys-command.js', process.argv.slice(2));
