import { isIPv6 } from 'node:net';
import type { Context } from 'koa';

/**
 * Where a request comes from, for limits: an IPv4 address, or the first 64 bits of an IPv6 one, since a household has
 * them all to itself (RFC 6177).
 */
export function clientAddress(ctx: Pick<Context, 'ip'>): string {
  const ip = ctx.ip.replace(/^::ffff:(?=\d+\.)/i, '');
  if (!isIPv6(ip)) return ip;
  const [head = '', tail = ''] = ip.split('%')[0]?.split('::') ?? [];
  const front = head.split(':').filter((x) => x !== '');
  const back = ip.includes('::') ? tail.split(':').filter((x) => x !== '') : [];
  const whole = [...front, ...Array<string>(8 - front.length - back.length).fill('0'), ...back];
  return `${whole
    .slice(0, 4)
    .map((x) => x.toLowerCase().replace(/^0+(?=.)/, ''))
    .join(':')}::/64`;
}
