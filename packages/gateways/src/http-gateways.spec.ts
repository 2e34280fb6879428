import { createServer, type Server } from 'node:http';
import { GatewayBusy, GatewayDown, GatewayNotTaken, GatewayRefused } from './gateways.js';
import { allAt, httpGateways } from './http-gateways.js';
import { readEvent } from './events.js';

describe('the gateways over HTTP', () => {
  let server: Server;
  let url = '';
  let answer: { status: number; headers?: Record<string, string>; body: unknown } = { status: 200, body: {} };
  let seen: { method?: string; url?: string; body: string } = { body: '' };

  beforeAll(async () => {
    server = createServer((req, res) => {
      let body = '';
      req.on('data', (d) => (body += String(d)));
      req.on('end', () => {
        seen = { method: req.method, url: req.url, body };
        res.writeHead(answer.status, { 'content-type': 'application/json', ...answer.headers });
        res.end(JSON.stringify(answer.body));
      });
    });
    await new Promise<void>((r) => server.listen(0, '127.0.0.1', r));
    const a = server.address();
    url = `http://127.0.0.1:${typeof a === 'object' && a ? a.port : 0}`;
  });
  afterAll(() => server.close());

  const text = { key: 'k1', from: '+12015550142', to: '+12125550123', text: 'x', segments: 1, readUpTo: 7, takeBy: 9 };

  it('hands the idempotency key on with the text', async () => {
    answer = { status: 200, body: { accepted: true } };
    await httpGateways(allAt(url)).network.send(text);
    expect(seen.method).toBe('POST');
    expect(seen.url).toBe('/network/texts');
    expect(JSON.parse(seen.body)).toEqual(text);
  });

  it('hands over a lot, and has an answer for each text of it', async () => {
    const { network } = httpGateways(allAt(url));
    const lot = ['k1', 'k2', 'k3', 'k4'].map((key) => ({ ...text, key }));
    answer = {
      status: 200,
      body: {
        answers: [
          { accepted: true },
          { status: 409, code: 'unread', detail: 'The recipient wrote.' },
          { status: 429, code: 'queue', detail: 'The queue is full.', retryAfterMs: 3000 },
          { status: 403, code: 'unregistered', detail: 'Not in a campaign.' },
        ],
      },
    };
    expect(await network.sendLot(lot)).toEqual([
      null,
      new GatewayNotTaken('The recipient wrote.', 'unread'),
      new GatewayBusy('The queue is full.', 3000),
      new GatewayRefused('Not in a campaign.', 'unregistered'),
    ]);
    expect([seen.method, seen.url]).toEqual(['POST', '/network/lots']);
    expect(JSON.parse(seen.body)).toEqual({ texts: lot });
    // Answers for other texts than were asked say nothing of these.
    answer = { status: 200, body: { answers: [{ accepted: true }] } };
    await expectAsync(network.sendLot(lot)).toBeRejectedWithError(GatewayDown);
  });

  it('waits for the feed as long as it is told to, and no longer than it is wanted', async () => {
    const { feed } = httpGateways(allAt(url));
    answer = { status: 200, body: { events: [], more: false } };
    await feed.wait(7, 1234, new AbortController().signal);
    expect(seen.url).toBe('/events?after=7&limit=1&wait=1234');
    await expectAsync(feed.wait(7, 1234, AbortSignal.abort())).toBeRejectedWithError(GatewayDown);
  });

  it('tells apart busy, refused and down, since each is met differently', async () => {
    const g = httpGateways(allAt(url));
    answer = { status: 429, headers: { 'retry-after': '3' }, body: { detail: 'The queue is full.' } };
    await expectAsync(g.network.send(text)).toBeRejectedWith(new GatewayBusy('The queue is full.', 3000));
    answer = { status: 503, headers: { 'retry-after': '1' }, body: { detail: 'Out of order.' } };
    await expectAsync(g.network.send(text)).toBeRejectedWith(new GatewayBusy('Out of order.', 1000, false));
    answer = { status: 403, body: { code: 'unregistered', detail: 'Not in a campaign.' } };
    await expectAsync(g.network.send(text)).toBeRejectedWith(new GatewayRefused('Not in a campaign.', 'unregistered'));
    answer = { status: 500, body: {} };
    await expectAsync(g.network.send(text)).toBeRejectedWithError(GatewayDown);
    await expectAsync(httpGateways(allAt('http://127.0.0.1:9')).network.send(text)).toBeRejectedWithError(GatewayDown);
  });

  it('knows a text that needs a fresh look from one that is refused for good', async () => {
    const g = httpGateways(allAt(url));
    answer = { status: 409, body: { code: 'unread', detail: 'The recipient wrote.' } };
    await expectAsync(g.network.send(text)).toBeRejectedWith(new GatewayNotTaken('The recipient wrote.', 'unread'));
    answer = { status: 409, body: { code: 'something-else', detail: 'No.' } };
    await expectAsync(g.network.send(text)).toBeRejectedWithError(GatewayRefused);
    answer = { status: 200, body: { known: ['k1'] } };
    expect(await g.network.known(['k1', 'k2'])).toEqual(['k1']);
  });

  it('asks of an event of the feed only its place, and reads each by itself', async () => {
    answer = { status: 200, body: { events: [{ seq: 1, at: 1, kind: 'text.exploded', key: 'x' }], more: false } };
    const [event] = (await httpGateways(allAt(url)).feed.after(0, 10)).events;
    expect(event && readEvent(event).ok).toBe(false);
    answer = { status: 200, body: { events: [{ at: 1, kind: 'text.delivered', key: 'x' }], more: false } };
    await expectAsync(httpGateways(allAt(url)).feed.after(0, 10)).toBeRejected();
  });

  it('counts a failure class it does not know as other, and says it', () => {
    const read = readEvent({
      seq: 1,
      at: 1,
      kind: 'text.failed',
      key: 'x',
      carrier: '',
      failure: 'eaten',
      code: '9',
      reason: 'Eaten.',
    });
    expect(read.ok && read.event).toEqual(
      jasmine.objectContaining({ failure: 'other', reason: 'Eaten. (class “eaten”)' }),
    );
  });

  it('has no clock to move where the outside is real', () => {
    expect(httpGateways(allAt(url, false)).simulation).toBeNull();
  });
});
