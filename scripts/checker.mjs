// The page that checks evidence packs: one file with its script in it, which goes into every pack.
import { createHash } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { buildSync } from 'esbuild';

/** Bundles `packages/web/src/checker` into `packages/web/dist/checker/check.html`. */
export function buildChecker(root) {
  const from = path.join(root, 'packages/web/src/checker');
  const { outputFiles } = buildSync({
    entryPoints: [path.join(from, 'main.ts')],
    bundle: true,
    minify: true,
    format: 'iife',
    target: 'es2022',
    write: false,
    legalComments: 'inline',
  });
  const script = outputFiles[0].text.trim().replaceAll('</script', '<\\/script');
  const may = `sha256-${createHash('sha256').update(script).digest('base64')}`;
  const policy = `<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'; script-src '${may}'" />`;
  const page = readFileSync(path.join(from, 'check.html'), 'utf8')
    .replace('<meta charset="utf-8" />', `<meta charset="utf-8" />\n    ${policy}`)
    .replace('<script></script>', () => `<script>${script}</script>`);
  const to = path.join(root, 'packages/web/dist/checker');
  mkdirSync(to, { recursive: true });
  writeFileSync(path.join(to, 'check.html'), page);
}
