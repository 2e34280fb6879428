import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { hearStatements } from './connection.js';
import { SqliteConnection } from './sqlite.js';

describe('a connection to SQLite', () => {
  let dir = '';
  let c: SqliteConnection;
  beforeEach(async () => {
    dir = await mkdtemp(path.join(tmpdir(), 'connection-'));
    c = await SqliteConnection.open(path.join(dir, 'x.sqlite'), ['journal_mode=WAL']);
    await c.all('CREATE TABLE t (n INTEGER PRIMARY KEY, word TEXT)');
  });
  afterEach(async () => {
    hearStatements(null);
    await c.close();
    await rm(dir, { recursive: true, force: true });
  });

  it('takes values by name and in order, and the same statement with other values', async () => {
    for (const [n, word] of [
      [1, 'alder'],
      [2, 'birch'],
    ] as const)
      await c.all('INSERT INTO t (n, word) VALUES ($1, $2)', [n, word]);
    expect(await c.all('SELECT word FROM t WHERE n = $n', { n: 2 })).toEqual([{ word: 'birch' }]);
    expect(await c.all('SELECT word FROM t WHERE n = $n', { n: 1 })).toEqual([{ word: 'alder' }]);
    // One value for several places, and one too many.
    expect(await c.all('SELECT $1 AS a, $1 AS b', ['x', 'unused'])).toEqual([{ a: 'x', b: 'x' }]);
  });

  it('says which value is missing, and keeps nothing of a statement that fails', async () => {
    await expectAsync(c.all('SELECT $a + $b AS n', { a: 1 })).toBeRejectedWithError('No value was given for $b.');
    await expectAsync(c.all('SELECT a FROM nowhere')).toBeRejectedWithError(/no such table: nowhere/);
    await expectAsync(c.all('INSERT INTO t (n) VALUES (1), (1)')).toBeRejectedWithError(/UNIQUE constraint failed/);
    expect(await c.all('SELECT count(*) AS n FROM t')).toEqual([{ n: 0 }]);
    await c.all('INSERT INTO t (n) VALUES (1)');
    expect(await c.all('SELECT count(*) AS n FROM t')).toEqual([{ n: 1 }]);
  });

  it('prepares each text once, and goes on when there are more than it keeps', async () => {
    const heard: string[] = [];
    hearStatements((text) => heard.push(text));
    for (let i = 0; i < 5; i++) await c.all('SELECT 1 AS n');
    expect(heard).toEqual(['SELECT 1 AS n']);
    for (let i = 0; i < 450; i++) expect(await c.all(`SELECT ${i} AS n`)).toEqual([{ n: i }]);
    expect(await c.all('SELECT 0 AS n')).toEqual([{ n: 0 }]);
    expect(heard.filter((t) => t === 'SELECT 0 AS n').length)
      .withContext('made room, and was prepared anew')
      .toBe(2);
  });

  it('answers the same statement asked several times at once', async () => {
    await c.all(`INSERT INTO t (n, word) VALUES (1, 'a'), (2, 'b'), (3, 'c')`);
    const answers = await Promise.all([3, 1, 2, 3, 1].map((n) => c.all('SELECT word FROM t WHERE n = $1', [n])));
    expect(answers.flat()).toEqual(['c', 'a', 'b', 'c', 'a'].map((word) => ({ word })));
  });

  it('goes on with the new shape after a table was changed', async () => {
    await c.all('INSERT INTO t (n, word) VALUES (1, $1)', ['alder']);
    expect(await c.all('SELECT * FROM t')).toEqual([{ n: 1, word: 'alder' }]);
    await c.all('ALTER TABLE t ADD COLUMN more TEXT');
    expect(await c.all('SELECT * FROM t')).toEqual([{ n: 1, word: 'alder', more: null }]);
  });
});
