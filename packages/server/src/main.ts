import type { Server } from 'node:http';
import { fileURLToPath } from 'node:url';
import { buildApp } from './app.js';
import { readConfig } from './config.js';
import { seedDemo } from './demo/seed.js';

const webDir = process.env['LONG_GATE_WEB'] ?? fileURLToPath(new URL('../../web/dist/browser', import.meta.url));

try {
  const config = readConfig(process.env, webDir);
  const app = await buildApp(config);
  if (config.demo) await seedDemo(app, (line) => console.log(line));
  for (const id of await app.ledger.lookAtHeads(await app.businesses.ids(app.platform.db)))
    console.error(
      `The ledger of ${id} is shorter or other than its last signed head says. Nothing that was stopped will open; restore it from a back-up, then run “npm run ledger -- verify”.`,
    );
  const server = await new Promise<Server>((resolve, reject) => {
    const s = app.koa.listen(config.port, config.host, () => resolve(s));
    s.once('error', reject);
  });
  await app.platform.engine.start();
  const address = server.address();
  const port = typeof address === 'object' && address ? address.port : config.port;
  console.log(`Long Gate at http://${config.host === '127.0.0.1' ? 'localhost' : config.host}:${port}`);
  let ending = false;
  const end = (): void => {
    if (ending) return;
    ending = true;
    server.closeAllConnections();
    server.close();
    void app.close().then(() => process.exit(0));
  };
  process.on('SIGTERM', end);
  process.on('SIGINT', end);
} catch (error) {
  console.error(plainly(error as NodeJS.ErrnoException));
  process.exit(1);
}

function plainly(e: NodeJS.ErrnoException): string {
  if (e.code === 'EADDRINUSE')
    return `Port ${process.env['LONG_GATE_PORT'] ?? 4300} is taken. Set LONG_GATE_PORT to a free one.`;
  if (e.code === 'EACCES' || e.code === 'EROFS' || e.code === 'EPERM' || e.code === 'ENOTDIR' || e.code === 'ENOENT')
    return `The data folder ${process.env['LONG_GATE_DATA'] ?? 'data'} cannot be written. Set LONG_GATE_DATA to a folder that can.`;
  return e.message;
}
