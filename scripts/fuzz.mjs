// `npm run fuzz`: 10,000 seeded bad requests in every role; `npm run fuzz -- 50000 another-seed` for others.
import { command } from './prepare.mjs';

command('packages/server/dist/testing/fuzz-command.js', process.argv.slice(2));
