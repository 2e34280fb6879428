import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { mkdtemp, readdir, readFile, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { allAt, httpGateways, type Gateways } from '@long-gate/gateways';
import { startStandins, type Standins } from '../standins.js';

const letter = (to: string, subject: string, text: string): string =>
  `From: Long Gate <office@long-gate.example>\r\nTo: ${to}\r\nSubject: ${subject}\r\nDate: Tue, 12 Mar 2030 16:00:00 +0000\r\nContent-Type: text/plain; charset=utf-8\r\n\r\n${text}\r\n`;

describe('the mail of the simulated outside', () => {
  let dir = '';
  let standins: Standins;
  let g: Gateways;
  beforeEach(async () => {
    dir = await mkdtemp(path.join(tmpdir(), 'mail-'));
    standins = await startStandins({ dataDir: dir, port: 0, seed: 'test' });
    g = httpGateways(allAt(standins.url));
  });
  afterEach(async () => {
    await standins.stop();
    await rm(dir, { recursive: true, force: true });
  });

  const box = async (to = '') =>
    (await (await fetch(`${standins.url}/mail/messages?to=${encodeURIComponent(to)}`)).json()) as {
      n: number;
      to: string;
      subject: string;
      text: string;
    }[];

  it('keeps each message once as an RFC 5322 file that is its owner’s only', async () => {
    const raw = letter('ada@heron.example', 'An invitation', 'Open http://localhost:4300/invited/x');
    await g.mail.send('invitation:1', 'ada@heron.example', raw);
    await g.mail.send('invitation:1', 'ada@heron.example', raw);
    const files = await readdir(path.join(dir, 'mail'));
    expect(files.length).toBe(1);
    const file = path.join(dir, 'mail', files[0] ?? '');
    expect(await readFile(file, 'utf8')).toBe(raw);
    expect(((await stat(file)).mode & 0o777).toString(8)).toBe('600');
    expect((await box()).length).toBe(1);
  });

  it('is read like a mailbox, by address, newest first, and as the file it is', async () => {
    await g.mail.send('one', 'Ada@heron.example', letter('ada@heron.example', 'First', 'one'));
    await g.mail.send('two', 'bo@heron.example', letter('bo@heron.example', '=?utf-8?Q?Gr=C3=BC=C3=9Fe?=', 'two'));
    await g.mail.send('three', 'ada@heron.example', letter('ada@heron.example', 'Third', 'three'));
    expect((await box()).map((m) => m.subject)).toEqual(['Third', 'Grüße', 'First']);
    expect((await box('ADA@heron.example')).map((m) => m.text.trim())).toEqual(['three', 'one']);
    expect(await box('nobody@heron.example')).toEqual([]);
    const [last] = await box();
    const file = await fetch(`${standins.url}/mail/messages/${last?.n ?? 0}.eml`);
    expect([file.headers.get('content-type'), await file.text()]).toEqual([
      'message/rfc822',
      letter('ada@heron.example', 'Third', 'three'),
    ]);
    expect((await fetch(`${standins.url}/mail/messages/99.eml`)).status).toBe(404);
    expect(await (await fetch(`${standins.url}/mailbox`)).text()).toContain('<title>Mailbox (simulated)</title>');
  });

  it('answers a lookup again under its key, counts it once, and lets it through whatever the pace', async () => {
    const first = await g.lines.lookup('wish-number-1', '+12125550123');
    await new Promise((r) => setTimeout(r, 20));
    for (let i = 0; i < 30; i++) expect(await g.lines.lookup('wish-number-1', '+12125550123')).toEqual(first);
    const pace = (await (await fetch(`${standins.url}/lines/pace`)).json()) as { lookups: number };
    expect(pace.lookups).toBe(1);
    await g.lines.lookup('wish-number-2', '+12125550123');
    expect(((await (await fetch(`${standins.url}/lines/pace`)).json()) as { lookups: number }).lookups).toBe(2);
  });

  /** A letter to many, as RFC 8058 has it. */
  const toMany = (to: string, way: string): string =>
    letter(to, 'Texts?', 'Hello').replace(
      'Content-Type',
      `List-Unsubscribe: <${way}>\r\nList-Unsubscribe-Post: List-Unsubscribe=One-Click\r\nContent-Type`,
    );
  const told = async () =>
    (
      (await (await fetch(`${standins.url}/events?after=0&limit=100`)).json()) as {
        events: { kind: string; key: string }[];
      }
    ).events;

  it('sends back letters to many for whom there is no mailbox, and never one to a single person', async () => {
    await g.mail.send('single', 'gone.away@mail.example', letter('gone.away@mail.example', 'An invitation', 'Hello'));
    await g.mail.send('many', 'gone.away@mail.example', toMany('gone.away@mail.example', 'http://localhost:1/x'));
    await g.mail.send('many', 'gone.away@mail.example', toMany('gone.away@mail.example', 'http://localhost:1/x'));
    await fetch(`${standins.url}/clock`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ now: Date.now() + 86_400_000 }),
    });
    let events: { kind: string; key: string }[] = [];
    for (let i = 0; i < 40 && events.length === 0; i++) {
      await new Promise((r) => setTimeout(r, 50));
      events = await told();
    }
    expect(events.map((e) => [e.kind, e.key])).toEqual([['mail.bounced', 'many']]);
  });

  it('ends letters by one POST to where they say, and passes on that one was not wanted', async () => {
    const asked: { method: string; body: string }[] = [];
    const server = createServer((req, res) => {
      let body = '';
      req.on('data', (part: Buffer) => (body += part.toString()));
      req.on('end', () => {
        asked.push({ method: req.method ?? '', body });
        res.end();
      });
    });
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
    const { port } = server.address() as AddressInfo;
    await g.mail.send('one', 'ada@heron.example', letter('ada@heron.example', 'An invitation', 'Hello'));
    await g.mail.send('many', 'ada@heron.example', toMany('ada@heron.example', `http://127.0.0.1:${port}/letters`));
    const [many, one] = await box('ada@heron.example');
    const act = (n: number | undefined, what: string) =>
      fetch(`${standins.url}/mail/messages/${n}/${what}`, { method: 'POST' });
    expect((await act(one?.n, 'unsubscribe')).status).toBe(404);
    expect(await (await act(many?.n, 'unsubscribe')).json()).toEqual({ accepted: true });
    expect(asked).toEqual([{ method: 'POST', body: 'List-Unsubscribe=One-Click' }]);
    await act(many?.n, 'complaint');
    expect((await told()).map((e) => [e.kind, e.key])).toEqual([['mail.complained', 'many']]);
    await new Promise((done) => server.close(done));
  });
});
