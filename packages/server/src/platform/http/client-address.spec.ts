import { Office } from '../../testing/office.js';
import { clientAddress } from './client-address.js';

describe('where a request comes from', () => {
  it('is an address, or the part of an IPv6 one that a household has to itself', () => {
    const of = (ip: string) => clientAddress({ ip });
    expect(of('192.0.2.7')).toBe('192.0.2.7');
    expect(of('::ffff:192.0.2.7')).toBe('192.0.2.7');
    expect(of('2001:db8:1:2:3:4:5:6')).toBe('2001:db8:1:2::/64');
    expect(of('2001:0DB8:0001:0002::9')).toBe('2001:db8:1:2::/64');
    expect(of('2001:db8::1')).toBe('2001:db8:0:0::/64');
    expect(of('fe80::1%eth0')).toBe('fe80:0:0:0::/64');
    expect(of('::1')).toBe('0:0:0:0::/64');
  });

  /** How many of forty sign-ins were tried, before the limit of thirty a minute from one address. */
  async function tried(env: NodeJS.ProcessEnv, forwarded: (i: number) => string): Promise<number> {
    const o = await Office.open(env);
    const door = await o.door();
    try {
      const v = await door.visitor();
      let n = 0;
      for (let i = 0; i < 40; i++) {
        const a = await v.ask(
          'POST',
          '/session',
          { email: `a${i}@heron.example`, password: 'x' },
          { 'x-forwarded-for': forwarded(i) },
        );
        if (a.status === 401) n++;
      }
      return n;
    } finally {
      await door.close();
      await o.close();
    }
  }

  it('is never what the caller claims: without a proxy of ours nothing forwarded is believed', async () => {
    expect(await tried({}, (i) => `198.51.100.${i}`)).toBe(30);
  });

  it('behind a proxy is what the proxy added at the end, whatever stood before it', async () => {
    expect(await tried({ LONG_GATE_PROXIES: '1' }, (i) => `198.51.100.${i}, 203.0.113.9`)).toBe(30);
    expect(await tried({ LONG_GATE_PROXIES: '1' }, (i) => `203.0.113.9, 198.51.100.${i}`)).toBe(40);
    expect(await tried({ LONG_GATE_PROXIES: '2' }, (i) => `198.51.100.${i}, 203.0.113.9, 192.0.2.1`)).toBe(30);
  });

  it('without TLS, where TLS is set up, is turned away in words', async () => {
    const o = await Office.open({ LONG_GATE_TLS: '1' });
    const door = await o.door();
    const v = await door.visitor();
    const plain = await v.ask('POST', '/session', { email: 'a@heron.example', password: 'x' });
    expect([plain.status, plain.body.code]).toEqual([400, 'tls']);
    const secure = await v.ask('GET', '/session', undefined, { 'x-forwarded-proto': 'https' });
    expect(secure.status).toBe(200);
    expect(secure.headers.get('strict-transport-security')).toContain('max-age');
    await door.close();
    await o.close();
  });
});
