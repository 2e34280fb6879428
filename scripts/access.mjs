// `npm run access`: writes docs/access.md, the table of who may what, from the contracts.
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { compile, install, root, run, tool } from './prepare.mjs';

install();
compile();
const { accessDocument } = await import(path.join(root, 'packages/contracts/dist/index.js'));
const file = path.join(root, 'docs/access.md');
writeFileSync(file, accessDocument());
run(tool('prettier'), ['--write', '--log-level', 'warn', file]);
