import { createServer, type Server } from 'node:http';
import { fileURLToPath } from 'node:url';
import { buildApp } from './app.js';
import { readConfig } from './config.js';
import { seedDemo } from './demo/seed.js';
import { isAddress } from './platform/db.js';
import { takeDatabase } from './platform/dialects/postgres.js';
import { prepareFolder, takeFolder } from './platform/folder.js';

const webDir = process.env['LONG_GATE_WEB'] ?? fileURLToPath(new URL('../../web/dist/browser', import.meta.url));
/** How often overwritten secrets are swept out of the journal. */
const SCRUB_EVERY_MS = 60_000;

let end = (): void => process.exit(0);
process.on('SIGTERM', () => end());
process.on('SIGINT', () => end());
// Whoever started us holds the other end of our input: when they are gone, however they went, it closes.
if (process.env['LONG_GATE_WITH_PARENT'] === '1') process.stdin.on('close', () => end()).resume();

try {
  const config = readConfig(process.env, webDir);
  // Nothing is made or seeded where the door cannot be opened anyway.
  await listening(createServer(), config.host, config.port).then(closed);
  await prepareFolder(config.dataDir);
  await takeFolder(config.dataDir);
  if (isAddress(config.database))
    await takeDatabase(config.database, () => {
      console.error('The connection to the database was lost. Nothing that was acknowledged is; start again.');
      process.exit(1);
    });
  const app = await buildApp(config);
  if (config.demo) await seedDemo(app, (line) => console.log(line));
  for (const id of await app.ledger.lookAtHeads(await app.businesses.ids(app.platform.db)))
    console.error(
      `The ledger of ${id} is shorter or other than its last signed head says. Nothing that was stopped will open; restore it from a back-up, then run “npm run ledger -- verify”.`,
    );
  const answer = app.koa.callback();
  const server = await listening(
    createServer((req, res) => void answer(req, res)),
    config.host,
    config.port,
  );
  await app.platform.engine.start();
  const scrubbing = setInterval(() => void app.platform.db.scrub().catch(() => undefined), SCRUB_EVERY_MS);
  const address = server.address();
  const port = typeof address === 'object' && address ? address.port : config.port;
  console.log(`Long Gate at http://${config.host === '127.0.0.1' ? 'localhost' : config.host}:${port}`);
  let ending = false;
  end = () => {
    if (ending) return;
    ending = true;
    clearInterval(scrubbing);
    server.closeAllConnections();
    server.close();
    void app.close().then(() => process.exit(0));
  };
} catch (error) {
  console.error(plainly(error as NodeJS.ErrnoException));
  process.exit(1);
}

function listening(server: Server, host: string, port: number): Promise<Server> {
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen({ host, port }, () => resolve(server));
  });
}

function closed(server: Server): Promise<void> {
  return new Promise((resolve) => server.close(() => resolve()));
}

/** One sentence that says what is wrong and how to mend it. */
function plainly(e: NodeJS.ErrnoException): string {
  const folder = process.env['LONG_GATE_DATA'] ?? 'data';
  if (e.code === 'EADDRINUSE')
    return `Port ${process.env['LONG_GATE_PORT'] ?? 4300} is taken. Set LONG_GATE_PORT to a free one.`;
  if (e.code === 'EADDRNOTAVAIL' || e.code === 'ENOTFOUND')
    return `This machine has no address ${process.env['LONG_GATE_HOST'] ?? ''}. Set LONG_GATE_HOST to one it has, such as 127.0.0.1.`;
  if (e.code === 'EACCES' && e.syscall === 'listen')
    return `Port ${process.env['LONG_GATE_PORT'] ?? 4300} needs rights this process does not have. Set LONG_GATE_PORT to one above 1023.`;
  if (/SQLITE_NOTADB|SQLITE_CORRUPT/.test(e.message))
    return `The file long-gate.sqlite in ${folder} is damaged or no database. Restore it from a back-up, or set LONG_GATE_DATA to another folder.`;
  if (
    /SQLITE_(READONLY|CANTOPEN|FULL|IOERR)/.test(e.message) ||
    ['EACCES', 'EROFS', 'EPERM', 'ENOSPC'].includes(e.code ?? '')
  )
    return `The data folder ${folder} cannot be written, or is full. Make room, or set LONG_GATE_DATA to a folder that can.`;
  return e.message;
}
