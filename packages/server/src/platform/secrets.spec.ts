import { spawnSync } from 'node:child_process';
import { chmod, copyFile, mkdir, mkdtemp, readdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { fileURLToPath } from 'node:url';
import { ofSqlite, tableNames } from '../testing/database.js';
import { Office } from '../testing/office.js';
import { backUp } from './backup.js';
import { prepareFolder, takeFolder } from './folder.js';
import { mask } from './mask.js';
import { SEALED, sealAnew } from './sealed-store.js';
import { Vault } from './vault.js';

const SERVER = fileURLToPath(new URL('..', import.meta.url));

describe('secrets', () => {
  let o: Office;
  let apart = '';
  beforeEach(async () => {
    o = await Office.open();
    apart = await mkdtemp(path.join(tmpdir(), 'apart-'));
  });
  afterEach(async () => {
    await o.close();
    await rm(apart, { recursive: true, force: true });
  });

  /** Everything that is sealed somewhere: a PIN, an account number, a tax number, a document, a mail, a factor. */
  async function sealThings(): Promise<string> {
    const { app } = o;
    const pin = await app.guard.pin(o.admin, o.business, o.number);
    const { ids } = await app.ports.begin(o.admin, o.business, '201-555-0177', 'port-one');
    const [id = ''] = ids;
    const port = await app.ports.get(o.business, id, true);
    await app.ports.save(o.admin, o.business, id, port.version, {
      facts: { ...port.facts, accountNumber: '0040712', pin: '90815' },
      acknowledged: [],
      billDated: '',
    });
    o.outside.record = {
      accountNumber: '77-0040713',
      holderName: 'HERON LANE BAKERY LLC',
      tradingAs: '',
      street: '9 MILL ST',
      unit: '',
      city: 'QUILLMERE',
      state: 'NJ',
      postalCode: '07030',
      billingNumber: '+12015550177',
      numbers: [{ e164: '+12015550177', active: true }],
      authorisedNames: [],
      freeze: false,
      pendingOrder: '',
    };
    await app.ports.askForRecord(o.admin, o.business, id);
    await app.portPapers.upload(o.admin, o.business, id, {
      what: 'bill',
      name: 'bill.pdf',
      bytes: Buffer.from('%PDF-1.7 a bill'),
      dated: '2030-03-01',
      signedBy: '',
    });
    await app.platform.db.write((w) => w.run('UPDATE port SET last_secrets = secrets'));
    const dossier = await app.registration.dossier(o.business);
    await app.registration.brands.save(o.admin, o.business, dossier.brand.version, dossier.brand.body, '36-1234567');
    await app.ownMobile.set(o.admin, '+12015550191', o.business, '192.0.2.7', 'wish-one');
    await app.portCalendar.path(o.business, o.admin.id);
    await app.invitations.invite(o.admin, o.business, { email: 'odette@heron.example', role: 'viewer' }, 'wish-two');
    await app.platform.db.write((w) =>
      w.run('UPDATE "user" SET factor_secret = $1, factor_pending = $1', [app.platform.vault.seal('a secret')]),
    );
    return pin;
  }

  /** Every column of every table that holds something the vault opens. */
  async function sealedColumns(vault: Vault): Promise<string[]> {
    const { db } = o.app.platform;
    const found = new Set<string>();
    const opens = (value: unknown): boolean => {
      if (typeof value !== 'string' && !Buffer.isBuffer(value)) return false;
      const raw = Buffer.isBuffer(value) ? value : Buffer.from(value, 'base64');
      return raw.length > 28 && vault.isPresent(raw);
    };
    for (const name of await tableNames(db))
      for (const row of await db.all<Record<string, unknown>>(`SELECT * FROM "${name}"`))
        for (const [column, value] of Object.entries(row)) {
          const inner =
            typeof value === 'string' && value.startsWith('{"sealed"')
              ? (JSON.parse(value) as { sealed: string }).sealed
              : value;
          if (opens(inner)) found.add(`${name}.${column}`);
        }
    return [...found].sort();
  }

  it('are all in the list of what a new key seals anew', async () => {
    await sealThings();
    expect(await sealedColumns(o.app.platform.vault)).toEqual(SEALED.map((s) => `${s.table}.${s.column}`).sort());
  });

  it('are sealed under a new key, the old one kept for reading until it is done, also across a crash', async () => {
    const pin = await sealThings();
    const before = await readFile(path.join(o.dir, 'secret.key'), 'utf8');
    const { db } = o.app.platform;
    const next = await o.app.platform.vault.renewed(o.dir);
    expect((await readFile(path.join(o.dir, 'secret.key'), 'utf8')).trim().split('\n').length).toBe(2);
    // The power goes while they are sealed anew.
    let columns = 0;
    await expectAsync(
      sealAnew(db, next, () => {
        if (++columns === 5) throw new Error('power cut');
      }),
    ).toBeRejectedWithError('power cut');
    await o.again();
    expect(await o.app.guard.pin(o.admin, o.business, o.number)).toBe(pin);
    // The command goes on from where it was, as often as it is asked.
    await o.end();
    const renew = () =>
      spawnSync(process.execPath, [path.join(SERVER, 'keys-command.js'), 'renew'], {
        env: { ...process.env, ...o.env },
        encoding: 'utf8',
      });
    expect(renew().stdout).toMatch(/\d+ values are sealed under the present key/);
    const after = await readFile(path.join(o.dir, 'secret.key'), 'utf8');
    expect(after.trim().split('\n').length).toBe(1);
    expect(after).not.toBe(before);
    await o.again();
    expect(await o.app.guard.pin(o.admin, o.business, o.number)).toBe(pin);
    expect(await sealedColumns(o.app.platform.vault)).toEqual(SEALED.map((s) => `${s.table}.${s.column}`).sort());
    await writeFile(path.join(apart, 'secret.key'), before);
    const old = await Vault.open(apart, {});
    expect(await sealedColumns(old))
      .withContext('the old key opens nothing')
      .toEqual([]);
  });

  it('without their key, or with another, stop the start with a sentence, and leave the data as it is', async () => {
    await sealThings();
    await o.end();
    const key = path.join(o.dir, 'secret.key');
    await copyFile(key, path.join(apart, 'secret.key'));
    await rm(key);
    await expectAsync(o.again()).toBeRejectedWithError(
      /holds sealed data, and its key is missing\. Put the secret\.key/,
    );
    expect(await readdir(o.dir))
      .withContext('no new key is made')
      .not.toContain('secret.key');
    await expectAsync(o.again({ LONG_GATE_KEY: 'ab'.repeat(32) })).toBeRejectedWithError(/sealed under another key/);
    await expectAsync(o.again({ LONG_GATE_KEY: 'short' })).toBeRejectedWithError(/64 hexadecimal digits/);
    await copyFile(path.join(apart, 'secret.key'), key);
    await o.again();
    expect(await o.app.guard.pin(o.admin, o.business, o.number)).toMatch(/^\d{6}$/);
  });

  ofSqlite('that were overwritten are in no file any more', async () => {
    const { db, vault } = o.app.platform;
    const first = vault.seal('the first secret of many');
    await db.write((w) => w.run('UPDATE "user" SET factor_secret = $1', [first]));
    const files = async () =>
      Promise.all(
        (await readdir(o.dir))
          .filter((n) => n.startsWith('long-gate'))
          .map((n) => readFile(path.join(o.dir, n), 'latin1')),
      );
    expect((await files()).some((f) => f.includes(first))).toBeTrue();
    await db.scrub();
    await db.write((w) => w.run('UPDATE "user" SET factor_secret = $1', [vault.seal('another secret')]));
    await db.scrub();
    expect((await files()).some((f) => f.includes(first))).toBeFalse();
  });

  it('lie in files and folders that are their owner’s only', async () => {
    await sealThings();
    const mode = async (file: string) => ((await stat(file)).mode & 0o777).toString(8);
    expect(await mode(o.dir)).toBe('700');
    const walk = async (dir: string): Promise<void> => {
      for (const e of await readdir(dir, { withFileTypes: true })) {
        const full = path.join(dir, e.name);
        expect(await mode(full))
          .withContext(full)
          .toBe(e.isDirectory() ? '700' : '600');
        if (e.isDirectory()) await walk(full);
      }
    };
    await walk(o.dir);
  });

  it('are masked so that nothing of a short one shows, not even its length', () => {
    for (const short of ['4', '0715', '90815', '0040712', '36-1234567', '361234567'])
      expect(mask(short)).withContext(short).toBe('••••••');
    expect(mask('QM-2027-000481')).toBe('••••••0481');
    expect(mask('')).toBe('');
  });

  it('stand nowhere in what is kept of a submission, nor does anything made of them', async () => {
    await sealThings();
    const id = (await o.app.ports.list(o.business, true))[0]?.id ?? '';
    const { submittedShape } = await import('../areas/numbers/porting/index.js');
    const { readPort } = await import('../areas/numbers/porting/port-row.js');
    const shape = (pin: string) =>
      readPort(o.app.platform.db, o.app.platform.vault, o.business, id).then((port) =>
        submittedShape({ ...port, facts: { ...port.facts, pin } }),
      );
    expect(await shape('90815'))
      .withContext('two PINs, the same record')
      .toEqual(await shape('11111'));
    expect(JSON.stringify(await shape('90815'))).not.toMatch(/90815|0040712|0712/);
  });

  describe('in a back-up', () => {
    const copy = () => path.join(apart, 'copy');
    const keys = () => path.join(apart, 'keys');
    const make = (to = copy(), keyTo = keys()) =>
      backUp({ dataDir: o.dir, headsDir: o.app.platform.config.headsDir, to, keyTo });

    ofSqlite('lie apart from their key; restored together they are read, and the ledger is whole', async () => {
      const pin = await sealThings();
      await o.contact('+12125550123', ['informational']);
      await o.app.ledger.signHeads(o.business);
      // Made while somebody writes.
      const writing = o.contact('+12125550124', ['informational']);
      await make();
      await writing;
      expect(await readdir(copy())).not.toContain('secret.key');
      const key = (await readFile(path.join(keys(), 'secret.key'), 'utf8')).trim();
      for (const name of await readdir(copy()))
        if (!(await stat(path.join(copy(), name))).isDirectory())
          expect((await readFile(path.join(copy(), name), 'latin1')).includes(key)).toBeFalse();
      // Something is lost after the copy was made; the copy is put where data lies, with its key.
      await expectAsync(o.again({}, copy())).toBeRejectedWithError(/its key is missing/);
      await copyFile(path.join(keys(), 'secret.key'), path.join(copy(), 'secret.key'));
      await o.again({}, copy());
      expect(await o.app.guard.pin(o.admin, o.business, o.number)).toBe(pin);
      expect((await o.app.ledger.verify(o.business)).ok).toBeTrue();
      expect(await o.state('+12125550123')).toEqual(jasmine.objectContaining({ informational: 'granted' }));
    });

    ofSqlite('are not put beside it, nor over something that is there', async () => {
      await expectAsync(make(copy(), path.join(copy(), 'keys'))).toBeRejectedWithError(/has to lie apart/);
      await expectAsync(make(copy(), copy())).toBeRejectedWithError(/has to lie apart/);
      await mkdir(copy());
      await writeFile(path.join(copy(), 'other.txt'), 'x');
      await expectAsync(make()).toBeRejectedWithError(/is not empty/);
      expect(await readdir(copy())).toEqual(['other.txt']);
    });
  });
});

describe('the data folder', () => {
  let dir = '';
  beforeEach(async () => (dir = await mkdtemp(path.join(tmpdir(), 'folder-'))));
  afterEach(() => rm(dir, { recursive: true, force: true }));

  it('is made where it is missing, and refused where it is a file or holds other things', async () => {
    await prepareFolder(path.join(dir, 'new', 'one'));
    expect(((await stat(path.join(dir, 'new', 'one'))).mode & 0o777).toString(8)).toBe('700');
    await writeFile(path.join(dir, 'file'), 'x');
    await expectAsync(prepareFolder(path.join(dir, 'file'))).toBeRejectedWithError(/is a file/);
    await expectAsync(prepareFolder(path.join(dir, 'file', 'in'))).toBeRejectedWithError(/is a file/);
    await expectAsync(prepareFolder(dir)).toBeRejectedWithError(/holds other things/);
    expect(((await stat(dir)).mode & 0o777).toString(8))
      .withContext('left as it was')
      .toBe('700');
  });

  it('may hold a file of somebody’s beside the data, which is left as it is', async () => {
    const o = await Office.open();
    const notes = path.join(o.dir, 'notes.txt');
    await writeFile(notes, 'x');
    await chmod(notes, 0o640);
    await o.again();
    expect(((await stat(notes)).mode & 0o777).toString(8)).toBe('640');
    await o.close();
  });

  it('belongs to one process at a time', async () => {
    const giveBack = await takeFolder(dir);
    // Also where nobody keeps what it returned, and what is not held any more is swept up.
    const other = path.join(dir, 'other');
    await mkdir(other);
    await takeFolder(other);
    setFlagsFromString('--expose-gc');
    for (let i = 0; i < 5; i++) {
      (runInNewContext('gc') as () => void)();
      await new Promise((r) => setTimeout(r, 20));
    }
    await expectAsync(takeFolder(other)).toBeRejectedWithError(/Another Long Gate works on/);
    await expectAsync(takeFolder(dir)).toBeRejectedWithError(/Another Long Gate works on/);
    await giveBack();
    await (
      await takeFolder(dir)
    )();
  });

  it('with a database of a newer version stops the start and changes nothing', async () => {
    const o = await Office.open();
    await o.app.platform.db.write((w) => w.run(`INSERT INTO migration (name) VALUES ('9999-of-tomorrow')`));
    await expectAsync(o.again()).toBeRejectedWithError(/newer version of Long Gate \(step 9999-of-tomorrow\)/);
    await rm(o.dir, { recursive: true, force: true });
  });
});
