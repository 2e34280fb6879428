// What runs without the application: the page that checks evidence packs, and the scripts of pages for people who never sign in.
import { createHash } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { buildSync } from 'esbuild';

/** One script with all it needs. */
function bundled(file) {
  const { outputFiles } = buildSync({
    entryPoints: [file],
    bundle: true,
    minify: true,
    format: 'iife',
    target: 'es2022',
    write: false,
    legalComments: 'inline',
  });
  return outputFiles[0].text.trim();
}

/** Bundles `packages/web/src/checker` into one page, and `packages/web/src/open-pages` into two scripts. */
export function buildBarePages(root) {
  const from = path.join(root, 'packages/web/src/checker');
  const script = bundled(path.join(from, 'main.ts')).replaceAll('</script', '<\\/script');
  const may = `sha256-${createHash('sha256').update(script).digest('base64')}`;
  const policy = `<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'; script-src '${may}'" />`;
  const page = readFileSync(path.join(from, 'check.html'), 'utf8')
    .replace('<meta charset="utf-8" />', `<meta charset="utf-8" />\n    ${policy}`)
    .replace('<script></script>', () => `<script>${script}</script>`);
  const to = path.join(root, 'packages/web/dist/checker');
  mkdirSync(to, { recursive: true });
  writeFileSync(path.join(to, 'check.html'), page);

  const open = path.join(root, 'packages/web/dist/open-pages');
  mkdirSync(open, { recursive: true });
  for (const name of ['opt-in', 'on-site'])
    writeFileSync(
      path.join(open, `${name}.js`),
      bundled(path.join(root, 'packages/web/src/open-pages', `${name}.main.ts`)),
    );
}
