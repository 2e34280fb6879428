import { startStandins } from './standins.js';

const port = Number(process.env['LONG_GATE_OUTSIDE_PORT'] ?? 4301);
// What is made here is its owner's only.
process.umask(0o077);
const dataDir = process.env['LONG_GATE_DATA'] ?? 'data';
try {
  const suspendAfter = process.env['LONG_GATE_SUSPEND_AFTER'];
  const lineFaults = process.env['LONG_GATE_LINE_FAULTS'];
  const running = await startStandins({
    dataDir,
    port,
    seed: process.env['LONG_GATE_SEED'] ?? 'quillmere',
    app: process.env['LONG_GATE_ADDRESS'] ?? `http://127.0.0.1:${process.env['LONG_GATE_PORT'] ?? 4300}`,
    ...(suspendAfter ? { suspendAfter: Number(suspendAfter) } : {}),
    ...(lineFaults ? { lineFaults: Number(lineFaults) } : {}),
  });
  console.log(`simulated outside at ${running.url}`);
  const end = (): void => {
    void running.stop().then(() => process.exit(0));
  };
  process.on('SIGTERM', end);
  process.on('SIGINT', end);
  // Whoever started us holds the other end of our input: when they are gone, however they went, it closes.
  if (process.env['LONG_GATE_WITH_PARENT'] === '1') process.stdin.on('close', end).resume();
} catch (error) {
  const e = error as NodeJS.ErrnoException;
  if (e.code === 'EADDRINUSE') console.error(`Port ${port} is taken. Set LONG_GATE_OUTSIDE_PORT to a free one.`);
  else if (['EACCES', 'EROFS', 'EPERM', 'ENOTDIR', 'ENOENT', 'EEXIST'].includes(e.code ?? ''))
    console.error(`The data folder ${dataDir} cannot be written. Set LONG_GATE_DATA to one that can.`);
  else console.error(e.message);
  process.exit(1);
}
