import { generateSync } from 'otplib';
import type { Door, Visitor } from '../../../testing/door.js';
import { Office } from '../../../testing/office.js';

const DAY_MS = 86_400_000;

describe('people', () => {
  let o: Office;
  let door: Door;
  let admin: Visitor;
  beforeEach(async () => {
    o = await Office.open();
    door = await o.door();
    admin = await door.visitor(o.admin.id);
  });
  afterEach(async () => {
    await door.close();
    await o.close();
  });

  let keys = 0;
  const key = () => ({ 'idempotency-key': `wish-number-${++keys}` });
  const at = (path: string): string => `/businesses/${o.business}${path}`;
  const tokenIn = (link: string): string => link.split('/').at(-1) ?? '';
  const invite = (email: string, role = 'coordinator', headers = key()) =>
    admin.ask('POST', at('/invitations'), { email, role }, headers);
  const signIn = async (email: string, password: string, code = '', v?: Visitor) => {
    const visitor = v ?? (await door.visitor());
    return { visitor, answer: await visitor.ask('POST', '/session', { email, password, code }) };
  };

  it('have the tables of the interface their own way, wherever they sign in, and nobody else has', async () => {
    const kept = { away: ['line'], asked: [], widths: { contact: 240 }, sort: { by: 'contact', down: true } };
    const tables = async (v: Visitor): Promise<unknown> => (await v.ask('GET', '/session')).body['tables'];
    expect(await tables(admin)).toEqual({});
    expect((await admin.ask('PUT', '/session/tables/contacts', kept)).status).toBe(200);
    const elsewhere = await door.visitor(o.admin.id);
    expect(await tables(elsewhere)).toEqual({ contacts: kept });
    const asTheyWere = { away: [], asked: [], widths: {}, sort: null };
    expect((await elsewhere.ask('PUT', '/session/tables/contacts', asTheyWere)).status).toBe(200);
    expect(await tables(admin)).toEqual({ contacts: asTheyWere });
    expect((await invite('odette@heron.example')).status).toBe(200);
    const odette = await door.visitor();
    await odette.ask('POST', `/public/invitations/${tokenIn(await o.linkMailedTo('odette@heron.example'))}`, {
      name: 'Odette',
      password: 'a long one for bread',
    });
    expect(await tables((await signIn('odette@heron.example', 'a long one for bread')).visitor)).toEqual({});
    expect(await tables(await door.visitor()))
      .withContext('a stranger')
      .toEqual({});
  });

  it('are told what is wrong with a table that is none, and it is not kept', async () => {
    const fine = { away: [], asked: [], widths: {}, sort: null };
    expect((await admin.ask('PUT', '/session/tables/elsewhere', fine)).status).toBe(422);
    expect((await admin.ask('PUT', '/session/tables/contacts', { ...fine, widths: { contact: 9 } })).status).toBe(422);
    expect((await (await door.visitor()).ask('PUT', '/session/tables/contacts', fine)).status).toBe(401);
    expect((await admin.ask('GET', '/session')).body['tables']).toEqual({});
  });

  describe('are invited', () => {
    it('by a link to their e-mail, set their own password, and come in with the role they were invited for', async () => {
      expect((await invite('odette@heron.example')).status).toBe(200);
      const link = await o.linkMailedTo('odette@heron.example');
      expect(link).toMatch(/^\/invited\/[\w-]{43}$/);
      const odette = await door.visitor();
      const path = `/public/invitations/${tokenIn(link)}`;
      expect((await odette.ask('GET', path)).body).toEqual({
        business: 'Heron Lane Bakery LLC',
        email: 'odette@heron.example',
        role: 'coordinator',
        known: false,
      });
      expect((await odette.ask('POST', path, { name: 'Odette', password: 'short' })).status).toBe(422);
      expect((await odette.ask('POST', path, { name: '', password: 'rye and barley' })).status).toBe(422);
      const came = await odette.ask('POST', path, { name: 'Odette Farrow', password: 'rye and barley' });
      expect((came.body['businesses'] as { role: string }[]).map((b) => b.role)).toEqual(['coordinator']);
      expect((await odette.ask('GET', at('/today'))).status).toBe(200);
      // The link is good once.
      expect((await (await door.visitor()).ask('POST', path, { name: 'X', password: 'rye and barley' })).status).toBe(
        404,
      );
      expect((await signIn('odette@heron.example', 'rye and barley')).answer.status).toBe(200);
    });

    it('and whoever invites learns nothing of whether there is such an account, nor its owner’s name', async () => {
      const other = await o.person('Linnet', null);
      const [known, unknown] = [await invite(other.email), await invite('nobody@heron.example')];
      expect([known.status, unknown.status]).toEqual([200, 200]);
      const told = ({ body }: typeof known) => Object.keys(body).sort();
      expect(told(known)).toEqual(told(unknown));
      expect(JSON.stringify(known.body)).not.toContain('Linnet"');
      expect(JSON.stringify((await admin.ask('GET', at('/people'))).body)).not.toContain('"Linnet"');
    });

    it('with an account they have, prove it by the password they have, and nobody can set it for them', async () => {
      const other = await o.person('Linnet', null);
      await invite(other.email, 'viewer');
      const path = `/public/invitations/${tokenIn(await o.linkMailedTo(other.email))}`;
      const v = await door.visitor();
      expect((await v.ask('GET', path)).body['known']).toBeTrue();
      expect((await v.ask('POST', path, { name: 'L', password: 'another password' })).status).toBe(401);
      expect((await v.ask('POST', path, { password: 'Linnet and more' })).status).toBe(200);
      expect((await signIn(other.email, 'another password')).answer.status).toBe(401);
    });

    it('until a day of the calendar where the business is', async () => {
      // Nine in the evening of 12 March in New York: in Greenwich it is the 13th.
      await o.later(9 * 3_600_000);
      await invite('odette@heron.example');
      await o.linkMailedTo('odette@heron.example');
      expect((o.outside.mails.at(-1)?.raw ?? '').replace(/=\r\n/g, '')).toContain('good until 2030-03-19 and for once');
    });

    it('once for one wish; sent again the earlier link ends; withdrawn or a week old it is good for nothing', async () => {
      const one = key();
      await invite('odette@heron.example', 'viewer', one);
      await invite('odette@heron.example', 'viewer', one);
      await o.settle();
      expect(o.outside.mails.length).toBe(1);
      const first = tokenIn(await o.linkMailedTo('odette@heron.example'));
      const id = String((await invite('odette@heron.example', 'coordinator')).body['id']);
      const second = tokenIn(await o.linkMailedTo('odette@heron.example'));
      expect(o.outside.mails.length).toBe(2);
      const see = async (token: string) =>
        (await (await door.visitor()).ask('GET', `/public/invitations/${token}`)).status;
      expect([await see(first), await see(second)]).toEqual([404, 200]);
      await o.later(7 * DAY_MS + 1000);
      expect(await see(second)).toBe(404);
      await admin.ask('POST', at(`/invitations/${id}/again`), {}, key());
      const third = tokenIn(await o.linkMailedTo('odette@heron.example'));
      expect(await see(third)).toBe(200);
      await admin.ask('DELETE', at(`/invitations/${id}`), {});
      expect(await see(third)).toBe(404);
    });

    it('and the secret of a link stands nowhere in the database', async () => {
      await invite('odette@heron.example');
      const waiting = JSON.stringify(await o.app.platform.db.all('SELECT * FROM outbox'));
      const token = tokenIn(await o.linkMailedTo('odette@heron.example'));
      expect(token.length).toBe(43);
      for (const table of ['outbox', 'invitation', 'audit', 'job'])
        expect(waiting + JSON.stringify(await o.app.platform.db.all(`SELECT * FROM ${table}`)))
          .withContext(table)
          .not.toContain(token);
    });
  });

  describe('sign in', () => {
    it('are told the same of a wrong password and an unknown address, and are kept waiting after ten wrong tries', async () => {
      await o.person('Linnet', 'viewer');
      const wrong = await signIn('linnet@heron.example', 'no');
      const unknown = await signIn('nobody@heron.example', 'no');
      expect([wrong.answer.status, wrong.answer.body]).toEqual([401, unknown.answer.body]);
      for (let i = 0; i < 9; i++) await signIn('linnet@heron.example', 'no');
      const right = await signIn('linnet@heron.example', 'Linnet and more');
      expect(right.answer.status).withContext('also with the right one').toBe(429);
      expect((await signIn('wren@heron.example', 'no')).answer.status)
        .withContext('another account')
        .toBe(401);
    });

    it('begin counting anew after the right password', async () => {
      await o.person('Linnet', 'viewer');
      for (let round = 0; round < 2; round++) {
        for (let i = 0; i < 9; i++) await signIn('linnet@heron.example', 'no');
        expect((await signIn('linnet@heron.example', 'Linnet and more')).answer.status).toBe(200);
        // The other limit, by address and minute, is not meant here.
        await door.close();
        door = await Office.prototype.door.call(o);
        await o.app.platform.db.write((w) => w.run(`DELETE FROM public_act WHERE who LIKE 'sign-in address%'`));
      }
    });

    it('see where they are signed in, end one session, and all others by a new password', async () => {
      const person = await o.person('Linnet', 'viewer');
      const [one, two, three] = [
        await door.visitor(person.id),
        await door.visitor(person.id),
        await door.visitor(person.id),
      ];
      const list = (await one.ask('GET', '/sessions')).body['items'] as {
        id: string;
        current: boolean;
        address: string;
      }[];
      expect([list.length, list.filter((s) => s.current).length, list[0]?.address]).toEqual([3, 1, '192.0.2.1']);
      const own = (await two.ask('GET', '/sessions')).body['items'] as { id: string; current: boolean }[];
      await one.ask('DELETE', `/sessions/${own.find((s) => s.current)?.id ?? ''}`, {});
      expect((await two.ask('GET', '/sessions')).status).toBe(401);
      expect((await admin.ask('DELETE', `/sessions/${list.find((s) => s.current)?.id ?? ''}`, {})).status)
        .withContext('another’s session')
        .toBe(404);
      expect((await one.ask('PUT', '/session/password', { password: 'guess', next: 'barley and rye' })).status).toBe(
        422,
      );
      const changed = await one.ask('PUT', '/session/password', {
        password: 'Linnet and more',
        next: 'barley and rye',
      });
      expect(changed.body['ended']).toBe(1);
      expect([(await one.ask('GET', '/sessions')).status, (await three.ask('GET', '/sessions')).status]).toEqual([
        200, 401,
      ]);
      expect((await signIn('linnet@heron.example', 'barley and rye')).answer.status).toBe(200);
    });

    it('leave no session behind in the same browser', async () => {
      await o.person('Linnet', 'viewer');
      const { visitor } = await signIn('linnet@heron.example', 'Linnet and more');
      const before = visitor.cookie;
      await signIn('linnet@heron.example', 'Linnet and more', '', visitor);
      expect(visitor.cookie).not.toBe(before);
      const n = await o.app.platform.db.one<{ n: number }>(
        `SELECT count(*) AS n FROM session s JOIN "user" u ON u.id = s.user_id WHERE u.name = 'Linnet'`,
      );
      expect(n?.n).toBe(1);
    });
  });

  describe('who forgot a password', () => {
    it('get a link that sets a new one, once and for an hour, and are signed out everywhere', async () => {
      const person = await o.person('Linnet', 'viewer');
      const session = await door.visitor(person.id);
      const v = await door.visitor();
      const [known, unknown] = [
        await v.ask('POST', '/public/password-resets', { email: person.email }),
        await v.ask('POST', '/public/password-resets', { email: 'nobody@heron.example' }),
      ];
      expect([known.status, known.body]).toEqual([unknown.status, unknown.body]);
      const path = `/public/password-resets/${tokenIn(await o.linkMailedTo(person.email))}`;
      expect(o.outside.mails.map((m) => m.to)).toEqual([person.email]);
      expect((await v.ask('GET', path)).body).toEqual({ email: person.email });
      expect((await v.ask('POST', path, { password: 'barley and rye' })).status).toBe(200);
      expect((await session.ask('GET', '/sessions')).status).toBe(401);
      expect((await v.ask('POST', path, { password: 'something else' })).status).toBe(404);
      expect((await signIn(person.email, 'barley and rye')).answer.status).toBe(200);
    });

    it('are sent at most five a day, whoever asks', async () => {
      const person = await o.person('Linnet', 'viewer');
      const v = await door.visitor();
      const statuses: number[] = [];
      for (let i = 0; i < 6; i++)
        statuses.push((await v.ask('POST', '/public/password-resets', { email: person.email })).status);
      expect(statuses).toEqual([200, 200, 200, 200, 200, 429]);
      await o.settle();
      expect(o.outside.mails.length).toBe(5);
    });
  });

  describe('with a second factor', () => {
    async function setUp(v: Visitor, password: string): Promise<{ secret: string; code: string; codes: string[] }> {
      const begun = await v.ask('POST', '/session/second-factor', { password });
      const secret = String(begun.body['secret']);
      const code = generateSync({ secret });
      const done = await v.ask('PUT', '/session/second-factor', { code });
      return { secret, code, codes: done.body['recoveryCodes'] as string[] };
    }

    it('are asked for a code of now, each good once, or a recovery code, each good once', async () => {
      const person = await o.person('Linnet', 'viewer');
      const v = await door.visitor(person.id);
      expect((await v.ask('POST', '/session/second-factor', { password: 'guess' })).status).toBe(422);
      const { secret, code, codes } = await setUp(v, 'Linnet and more');
      expect(codes.length).toBe(10);
      const rows = JSON.stringify(await o.app.platform.db.all('SELECT * FROM "user", recovery_code'));
      for (const kept of [secret, codes[0] ?? '']) expect(rows).not.toContain(kept);
      const asked = await signIn(person.email, 'Linnet and more');
      expect([asked.answer.status, asked.answer.body.code]).toEqual([401, 'second-factor']);
      expect((await signIn(person.email, 'Linnet and more', code)).answer.status)
        .withContext('the code that set it up')
        .toBe(401);
      const [used = ''] = codes;
      expect(
        (await signIn(person.email, 'Linnet and more', used.toUpperCase().replaceAll('-', ' '))).answer.status,
      ).toBe(200);
      expect((await signIn(person.email, 'Linnet and more', used)).answer.status).toBe(401);
      expect((await signIn(person.email, 'Linnet and more', '123456')).answer.status).toBe(401);
      expect((await v.ask('GET', '/session/second-factor')).body).toEqual({ on: true, recoveryCodesLeft: 9 });
    });

    it('can take it away only with password and code, and never where a business they administer wants one', async () => {
      const person = await o.person('Linnet', 'administrator');
      const v = await door.visitor(person.id);
      expect((await v.ask('PUT', at('/second-factor'), { wanted: true })).status)
        .withContext('whoever wants it has one')
        .toBe(422);
      const { codes } = await setUp(v, 'Linnet and more');
      expect((await v.ask('PUT', at('/second-factor'), { wanted: true })).status).toBe(200);
      const end = (code: string) => v.ask('DELETE', '/session/second-factor', { password: 'Linnet and more', code });
      expect((await end(codes[0] ?? '')).status).toBe(422);
      await v.ask('PUT', at('/second-factor'), { wanted: false });
      expect((await end('000000')).status).toBe(422);
      expect((await end(codes[1] ?? '')).status).toBe(200);
      expect((await signIn(person.email, 'Linnet and more')).answer.status).toBe(200);
    });

    it('administrators without one are shown nothing of a business that wants it, others go on', async () => {
      const linnet = await o.person('Linnet', 'administrator');
      const viewer = await door.visitor((await o.person('Tobiah', 'viewer')).id);
      const v = await door.visitor(linnet.id);
      await setUp(v, 'Linnet and more');
      await v.ask('PUT', at('/second-factor'), { wanted: true });
      const refused = await admin.ask('GET', at('/today'));
      expect([refused.status, refused.body.code]).toEqual([403, 'factor-missing']);
      const session = (await admin.ask('GET', '/session')).body['businesses'] as { factorMissing: boolean }[];
      expect(session.map((b) => b.factorMissing)).toEqual([true]);
      expect([(await v.ask('GET', at('/today'))).status, (await viewer.ask('GET', at('/today'))).status]).toEqual([
        200, 200,
      ]);
    });
  });

  describe('whose role or session ends', () => {
    /** Opens the live stream and collects what it says. */
    async function listen(v: Visitor): Promise<{ heard: string[]; over: () => boolean }> {
      const response = await fetch(`${door.url}/api/v1/live`, { headers: { cookie: v.cookie } });
      const heard: string[] = [];
      let over = false;
      const reader = response.body?.pipeThrough(new TextDecoderStream()).getReader();
      void (async () => {
        for (;;) {
          const { value, done } = (await reader?.read()) ?? { done: true, value: '' };
          if (done) break;
          heard.push(value);
        }
        over = true;
      })().catch(() => (over = true));
      await until(() => heard.length > 0);
      return { heard, over: () => over };
    }
    async function until(what: () => boolean): Promise<void> {
      for (let i = 0; i < 3_000 && !what(); i++) await new Promise((r) => setTimeout(r, 20));
      expect(what()).toBeTrue();
    }
    const tell = () => o.app.platform.live.tell({ businessId: o.business, topic: 'numbers' });

    it('hear no more of the business at once, and nothing at all once signed out', async () => {
      const person = await o.person('Linnet', 'viewer');
      const v = await door.visitor(person.id);
      const stream = await listen(v);
      tell();
      await until(() => stream.heard.join('').includes('numbers'));
      await o.app.people.changeRole(o.admin, o.business, person.id, 'none');
      await new Promise((r) => setTimeout(r, 300));
      const before = stream.heard.join('').split('numbers').length;
      tell();
      await new Promise((r) => setTimeout(r, 500));
      expect(stream.heard.join('').split('numbers').length).toBe(before);
      expect(stream.over()).toBeFalse();
      await v.ask('DELETE', '/session', {});
      await until(() => stream.over());
    });

    it('have a calendar feed of their own, which ends with the role, and can be renewed', async () => {
      const person = await o.person('Linnet', 'viewer');
      const v = await door.visitor(person.id);
      const path = async () => String((await v.ask('GET', at('/ports'))).body['calendarPath']).replace('/api/v1', '');
      const first = await path();
      expect(first).not.toBe(
        String((await admin.ask('GET', at('/ports'))).body['calendarPath']).replace('/api/v1', ''),
      );
      const feed = async (p: string) => (await (await door.visitor()).ask('GET', p)).status;
      expect(await feed(first)).toBe(200);
      await v.ask('POST', at('/calendar-feed'), {});
      const second = await path();
      expect([await feed(first), await feed(second)]).toEqual([404, 200]);
      await o.app.people.changeRole(o.admin, o.business, person.id, 'none');
      expect(await feed(second)).toBe(404);
    });

    it('cannot be the last administrator to go', async () => {
      expect((await admin.ask('PUT', at(`/people/${o.admin.id}`), { role: 'viewer' })).status).toBe(409);
      expect((await admin.ask('PUT', at(`/people/${o.admin.id}`), { role: 'none' })).status).toBe(409);
    });
  });

  describe('codes to a mobile', () => {
    const save = (mobile: string, v = admin, wish = key()) =>
      v.ask('PUT', '/session/mobile', { mobile, businessId: o.business }, wish);

    it('cost what a text costs, and are sent five a day to a number and by a person', async () => {
      const balance = async () => (await o.app.businesses.row(o.app.platform.db, o.business)).balance;
      const before = await balance();
      const statuses: number[] = [];
      const once = key();
      for (let i = 0; i < 2; i++) statuses.push((await save('201-555-0191', admin, once)).status);
      for (let i = 0; i < 5; i++) statuses.push((await save('201-555-0191')).status);
      expect(statuses).toEqual([200, 200, 200, 200, 200, 200, 429]);
      await o.settle();
      expect([before - (await balance()), o.outside.codes.length]).toEqual([5 * 7_000, 5]);
      const other = await door.visitor((await o.person('Linnet', 'viewer')).id);
      expect((await save('201-555-0191', other)).status)
        .withContext('the same number, somebody else')
        .toBe(429);
      expect((await save('201-555-0192', other)).status).toBe(200);
    });

    it('are paid by a business one has a part in, and not sent where it cannot pay', async () => {
      const stranger = await door.visitor((await o.person('Linnet', null)).id);
      expect((await save('201-555-0191', stranger)).status).toBe(404);
      await o.app.platform.db.write((w) => w.run('UPDATE business SET balance = 0'));
      const poor = await save('201-555-0191');
      expect(poor.status).toBe(422);
      expect(poor.body.detail).toMatch(/Top up first/);
      await o.settle();
      expect(o.outside.codes.length).toBe(0);
      const pending = (await admin.ask('GET', '/session')).body['user'] as { mobilePending: string };
      expect(pending.mobilePending).toBe('');
    });
  });
});
