import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import ts from 'typescript';
import { fileURLToPath } from 'node:url';

/** A query found in the sources: where it stands and which tables it names. */
interface Query {
  file: string;
  line: number;
  tables: string[];
  /** Asked through a model, or in a statement of its own. */
  by: 'model' | 'statement';
}

const SRC = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../src');

/** What makes, opens and copies the database as a whole, and so names no table of anybody's. */
const DATABASE_ITSELF = /^platform\/(dialects\/|db|bulk|migrate|table|backup)/;

/** The owner of a file or table: the area, or the platform. */
const ownerOf = (file: string): string => (file.startsWith('areas/') ? (file.split('/')[1] ?? '') : 'platform');
const isStore = (file: string): boolean => /(^|[/-])store\.ts$/.test(file) || /\/model\.ts$/.test(file);

function sources(): { file: string; text: string }[] {
  return readdirSync(SRC, { recursive: true, encoding: 'utf8' })
    .map((f) => f.split(path.sep).join('/'))
    .filter((f) => /^((areas|platform|demo)\/|[a-z-]+\.ts$)/.test(f) && f.endsWith('.ts') && !f.endsWith('.spec.ts'))
    .map((file) => ({ file, text: readFileSync(path.join(SRC, file), 'utf8') }));
}

/** The tables each `model.ts` declares. */
export function tablesOf(files: readonly { file: string; text: string }[]): Map<string, string> {
  const owners = new Map<string, string>();
  for (const { file, text } of files)
    if (file.endsWith('/model.ts'))
      for (const [, name = ''] of text.matchAll(/\btable\(\s*\w+,\s*'(\w+)'/g)) owners.set(name, ownerOf(file));
  return owners;
}

/** Every string of a file that asks the database, and every use of a model. */
export function queriesOf(file: string, text: string, owners: ReadonlyMap<string, string>): Query[] {
  const source = ts.createSourceFile(file, text, ts.ScriptTarget.Latest, true);
  const found: Query[] = [];
  const note = (node: ts.Node, by: Query['by'], tables: string[]): void => {
    const { line } = source.getLineAndCharacterOfPosition(node.getStart());
    found.push({ file, line: line + 1, tables, by });
  };
  const look = (node: ts.Node): void => {
    if (ts.isStringLiteralLike(node) || ts.isTemplateExpression(node)) {
      const words = node.getText();
      if (
        /\b(SELECT\b[\s\S]+\b(FROM|AS)\b|INSERT INTO|UPDATE "?\w+"? SET|DELETE FROM|FROM \w+ \w* ?(JOIN|WHERE))/.test(
          words,
        )
      ) {
        const named = [...words.matchAll(/\b(?:FROM|JOIN|INTO|UPDATE)\s+"?([a-z_]+)/g)].map(([, name = '']) => name);
        note(node, 'statement', [...new Set(named.filter((t) => owners.has(t)))]);
        return;
      }
    }
    if (
      ts.isCallExpression(node) &&
      ts.isPropertyAccessExpression(node.expression) &&
      node.expression.name.text === 'of'
    ) {
      const [table] = node.arguments;
      if (table && ts.isIdentifier(table) && table.text.endsWith('Table')) {
        const name = table.text.slice(0, -5).replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`);
        note(node, 'model', owners.has(name) ? [name] : []);
      }
    }
    ts.forEachChild(node, look);
  };
  look(source);
  return found;
}

describe('the owners of tables', () => {
  const files = sources();
  const owners = tablesOf(files);
  const all = files.flatMap(({ file, text }) => (DATABASE_ITSELF.test(file) ? [] : queriesOf(file, text, owners)));
  /** The demo writes a past that no service could, into everybody's tables. */
  const isDemo = (q: Query): boolean => q.file.startsWith('demo/');
  const queries = all.filter((q) => !isDemo(q));

  it('are found: every area that has tables declares them', () => {
    expect(owners.size).toBeGreaterThan(50);
    expect(owners.get('message')).toBe('dispatch');
    expect(owners.get('port')).withContext('in a nested folder').toBe('numbers');
    expect(queries.length).toBeGreaterThan(200);
  });

  it('alone query them', () => {
    const strangers = queries.flatMap((q) =>
      q.tables
        .filter((t) => owners.get(t) !== ownerOf(q.file))
        .map((t) => `${q.file}:${q.line} asks ${t} of ${owners.get(t)}`),
    );
    expect(strangers).toEqual([]);
  });

  it('query them in their stores and nowhere else', () => {
    const outside = [...new Set(queries.filter((q) => !isStore(q.file)).map((q) => q.file))].sort();
    expect(outside).toEqual([]);
  });

  it('lend the demo their models for its past; it says no statement of its own', () => {
    const past = all.filter(isDemo);
    expect(past.length).toBeGreaterThan(20);
    expect(past.filter((q) => q.by === 'statement')).toEqual([]);
  });

  it('are caught when they are not, also in a nested folder', () => {
    const bad = queriesOf(
      'areas/numbers/porting/desk.ts',
      "export const q = (r) => r.all('SELECT n.id FROM number n JOIN message m ON m.number_id = n.id');",
      owners,
    );
    expect(bad[0]?.tables).toEqual(['number', 'message']);
    expect(isStore('areas/numbers/porting/desk.ts')).toBeFalse();
    expect(isStore('areas/numbers/porting/port-store.ts')).toBeTrue();
    const model = queriesOf('areas/watch/watch.ts', 'r.of(messageTable).findAll()', owners);
    expect(model[0]?.tables).toEqual(['message']);
  });
});
