import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { takeFolder } from './platform/folder.js';
import { Office } from './testing/office.js';

const COMMAND = fileURLToPath(new URL('./counts-command.js', import.meta.url));

describe('the command that checks what is counted', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  const say = (wish: string): { code: number | null; said: string } => {
    const ran = spawnSync(process.execPath, [COMMAND, wish], { env: { ...process.env, ...o.env }, encoding: 'utf8' });
    return { code: ran.status, said: `${ran.stdout}${ran.stderr}` };
  };

  it('names what differs, counts it anew where asked, and says by its code whether all is well', async () => {
    await o.contact('+12125550123', ['informational']);
    await o.app.platform.db.write((w) => w.run('UPDATE contact_list SET members = members + 5'));
    await o.end();
    const found = say('verify');
    expect(found.code).toBe(1);
    expect(found.said).toContain('members of lists and tags: 1 of the counts differs from the rows; run “rebuild”');
    expect(found.said).toContain('texts by day, number, carrier and outcome: as the rows say');
    const giveBack = await takeFolder(o.dir);
    const beside = say('rebuild');
    await giveBack();
    expect([beside.code, /Another Long Gate works on/.test(beside.said)])
      .withContext('not while a server counts too')
      .toEqual([1, true]);
    const mended = say('rebuild');
    expect([
      mended.code,
      mended.said.includes('members of lists and tags: 1 of the counts differs from the rows; counted anew'),
    ]).toEqual([0, true]);
    expect(say('verify').code).toBe(0);
    expect(say('all').code).withContext('no such wish').toBe(2);
    await o.again();
    const lists = await o.app.platform.db.all<{ members: number }>('SELECT members FROM contact_list');
    expect(lists.map((l) => l.members)).toEqual([1]);
  });
});
