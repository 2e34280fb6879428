import { buildWeb, compile, install } from './prepare.mjs';

install();
compile();
await buildWeb();
