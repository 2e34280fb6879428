// The data of the demo's first start, in the folder that is named: for several processes that begin with it.
import { Running } from './running.js';

const folder = process.argv[2];
if (!folder) throw new Error('Name the folder.');
await Running.seed(folder);
