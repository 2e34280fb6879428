import { createServer, type Server } from 'node:http';
import { GatewayBusy, GatewayDown, GatewayRefused } from './gateways.js';
import { allAt, httpGateways } from './http-gateways.js';

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

  const text = { key: 'k1', from: '+12015550142', to: '+12125550123', text: 'x', segments: 1 };

  it('hands the idempotency key on with the text', async () => {
    answer = { status: 200, body: { accepted: true } };
    await httpGateways(allAt(url)).network.send(text);
    expect(seen.method).toBe('POST');
    expect(seen.url).toBe('/network/texts');
    expect(JSON.parse(seen.body)).toEqual(text);
  });

  it('tells apart busy, refused and down, since each is met differently', async () => {
    const g = httpGateways(allAt(url));
    answer = { status: 429, headers: { 'retry-after': '3' }, body: { detail: 'The queue is full.' } };
    await expectAsync(g.network.send(text)).toBeRejectedWith(new GatewayBusy('The queue is full.', 3000));
    answer = { status: 403, body: { code: 'unregistered', detail: 'Not in a campaign.' } };
    await expectAsync(g.network.send(text)).toBeRejectedWith(new GatewayRefused('Not in a campaign.', 'unregistered'));
    answer = { status: 500, body: {} };
    await expectAsync(g.network.send(text)).toBeRejectedWithError(GatewayDown);
    await expectAsync(httpGateways(allAt('http://127.0.0.1:9')).network.send(text)).toBeRejectedWithError(GatewayDown);
  });

  it('takes nothing unparsed from the outside', async () => {
    answer = { status: 200, body: { events: [{ seq: 1, at: 1, kind: 'text.exploded', key: 'x' }], more: false } };
    await expectAsync(httpGateways(allAt(url)).feed.after(0, 10)).toBeRejected();
  });

  it('has no clock to move where the outside is real', () => {
    expect(httpGateways(allAt(url, false)).simulation).toBeNull();
  });
});
