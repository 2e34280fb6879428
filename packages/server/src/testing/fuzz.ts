import http from 'node:http';
import { openApiDocument } from '@long-gate/contracts';
import { Seeded } from '../demo/random.js';
import { tableNames } from './database.js';
import type { Door, Visitor } from './door.js';
import { Office } from './office.js';

type Json = null | boolean | number | string | Json[] | { [key: string]: Json };
interface Operation {
  method: string;
  path: string;
  parameters: { name: string; in: string; schema: Schema }[];
  body: Schema | null;
}
interface Schema {
  type?: string | string[];
  enum?: Json[];
  const?: Json;
  properties?: Record<string, Schema>;
  items?: Schema;
  anyOf?: Schema[];
  default?: Json;
  pattern?: string;
}

export interface Fault {
  request: string;
  what: string;
}
export interface FuzzResult {
  sent: number;
  /** Answers by status. */
  statuses: Record<number, number>;
  faults: Fault[];
}

const HANG_MS = 10_000;
/** What a refused request may leave: sessions looked at, and what is counted to refuse it. */
const MAY_CHANGE = ['session', 'public_act', 'sqlite_sequence'];

/** Every operation of the OpenAPI document. */
function operations(): Operation[] {
  const paths = openApiDocument()['paths'] as Record<
    string,
    Record<
      string,
      {
        parameters: Operation['parameters'];
        requestBody?: { content: { 'application/json': { schema: Schema } } };
      }
    >
  >;
  return Object.entries(paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, o]) => ({
      method: method.toUpperCase(),
      path,
      parameters: o.parameters,
      body: o.requestBody?.content['application/json'].schema ?? null,
    })),
  );
}

/**
 * Sends bad requests made from the OpenAPI document, in every role, and looks for answers that no request should get: a
 * 5xx, none at all, a refusal without problem details or in a parser's words, rows left by a refused request. The same
 * seed sends the same.
 */
export async function fuzz(
  count: number,
  seed: string,
  say: (line: string) => void = () => undefined,
): Promise<FuzzResult> {
  const plain = await Office.open({ LONG_GATE_PROXIES: '1' });
  const tls = await Office.open({ LONG_GATE_TLS: '1' });
  try {
    const run = new Run(new Seeded(seed));
    await run.prepare(plain, tls);
    for (let i = 0; i < count; i++) {
      await run.one(i);
      if ((i + 1) % 1000 === 0) say(`${i + 1} sent, ${run.result.faults.length} faults`);
    }
    await run.end();
    return run.result;
  } finally {
    await plain.close();
    await tls.close();
  }
}

/** Texts that have broken something somewhere. */
const NASTY: string[] = [
  '',
  ' ',
  '\u0000',
  'a\u0000b',
  '\u0007',
  '\u200b',
  '\ud800',
  'x\udc00',
  '__proto__',
  'constructor',
  'toString',
  '../../etc/passwd',
  '%00',
  '%',
  "'; DROP TABLE user; --",
  '$1',
  '{{x}}',
  '<script>x</script>',
  '=1+1',
  'NaN',
  'Infinity',
  '-1',
  '1e309',
  '9007199254740993',
  '2030-13-45',
  '😀'.repeat(40),
  'ﷺ'.repeat(200),
  'x'.repeat(5000),
  Buffer.from('["a"]').toString('base64url'),
  Buffer.from('{"a":1}').toString('base64url'),
  Buffer.from('[null,null]').toString('base64url'),
];
/** How a parser would say what is wrong. */
const PARSERS = /expected|received|invalid (input|option|string|type)|too (big|small)|unrecognized|undefined|[<>]=/i;
const NUMBERS: Json[] = [0, -1, 1.5, 1e21, 9007199254740993, -0, 1e-9];
const METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS', 'HEAD', 'TRACE', 'PROPFIND', 'LOCK', 'PURGE'];
const TYPES = [
  'application/json',
  'application/json; charset=utf-99',
  'application/json; charset=utf-16',
  'text/plain',
  'text/xml',
  'application/x-www-form-urlencoded',
  'multipart/form-data',
  'application/octet-stream',
  'application/json;;;',
  '///',
];

/** Somebody at one of the two doors. */
interface At {
  office: Office;
  door: Door;
  personId: string | undefined;
  visitor: Visitor;
}

class Run {
  readonly result: FuzzResult = { sent: 0, statuses: {}, faults: [] };
  private readonly all = operations();
  private readonly people = ['nobody', 'viewer', 'coordinator', 'administrator', 'stranger'] as const;
  private readonly visitors = new Map<string, At[]>();
  private readonly ids = new Map<Office, string[]>();
  private readonly counted = new Map<Office, string>();
  private readonly doors: (() => Promise<void>)[] = [];
  /** What there is in the office that is asked, by its ids. */
  private known: readonly string[] = [];
  private readonly agent = new http.Agent({ keepAlive: true });

  constructor(private readonly random: Seeded) {}

  async prepare(plain: Office, tls: Office): Promise<void> {
    for (const office of [plain, tls]) {
      const door = await office.door();
      this.doors.push(() => door.close());
      for (const who of this.people) {
        const person = who === 'nobody' ? undefined : await office.person(who, who === 'stranger' ? null : who);
        const visitor = await door.visitor(person?.id);
        this.visitors.set(who, [...(this.visitors.get(who) ?? []), { office, door, personId: person?.id, visitor }]);
      }
      const contact = await office.contact('+12125550123', ['informational', 'promotional']);
      await office.text('+12125550123', 'please no more of this');
      const draft = await office.app.drafts.add(office.admin, office.business, await office.draft());
      const reviews = (await office.app.reviews.list(office.business)).items.map((r) => r.id);
      this.ids.set(office, [
        ...reviews,
        office.number,
        office.campaign,
        draft.id,
        await office.listId(),
        office.business,
        contact,
        '+12125550123',
      ]);
    }
  }

  async end(): Promise<void> {
    this.agent.destroy();
    for (const close of this.doors) await close();
  }

  private pick<T>(from: readonly T[]): T {
    return from[this.random.int(0, from.length - 1)] as T;
  }
  private chance(p: number): boolean {
    return this.random.next() < p;
  }

  /** One request: a good one as the document has it, spoilt in one or several places. */
  async one(n: number): Promise<void> {
    const who = this.pick(this.people);
    // One in twenty goes to a server that is set up for TLS and reached without.
    const [plain, tls] = this.visitors.get(who) ?? [];
    const at = this.chance(0.05) ? tls : plain;
    if (!at) return;
    const { office, visitor } = at;
    this.known = this.ids.get(office) ?? [];
    const op = this.pick(this.all);
    const path = op.path.replace(/\{(\w+)\}/g, (_, name: string) =>
      name === 'businessId' && !this.chance(0.15)
        ? office.business
        : encodeURIComponent(this.chance(0.5) ? this.pick(this.known) : this.fitForAddress(this.pick(NASTY))).slice(
            0,
            1500,
          ),
    );
    const query = op.parameters
      .filter((p) => p.in === 'query' && this.chance(0.6))
      .map(
        (p) =>
          `${p.name}=${this.chance(0.1) ? '%E0%A4%A' : encodeURIComponent(this.fitForAddress(this.value(p.schema))).slice(0, 1500)}`,
      );
    if (this.chance(0.05)) query.push('limit=1', 'limit=2', 'cursor[]=x', 'a=b=c', '%');
    const target = `${path}${this.chance(0.02) ? '/%E0%A4%A' : ''}${query.length > 0 ? `?${query.join('&')}` : ''}`;
    const headers: Record<string, string> = {
      // Each from an address of its own, so that limits stop no other.
      'x-forwarded-for': `198.51.${this.random.int(0, 255)}.${this.random.int(0, 255)}`,
      ...(visitor.cookie && !this.chance(0.03)
        ? { cookie: this.chance(0.03) ? 'long_gate=%%%; x' : visitor.cookie }
        : {}),
      ...(this.chance(0.95) ? { 'x-csrf-token': visitor.csrf } : {}),
      ...(this.chance(0.9) ? { 'idempotency-key': `fuzzed-wish-${n}` } : { 'idempotency-key': 'x' }),
      ...(this.chance(0.9) ? { 'if-match': this.chance(0.8) ? '"1"' : 'W/"x' } : {}),
      ...(this.chance(0.05) ? { accept: this.pick(['', '*/*;q=x', 'image/png', 'x'.repeat(500)]) } : {}),
      ...(this.chance(0.05) ? { range: 'bytes=5-1' } : {}),
      ...(this.chance(0.05)
        ? { 'accept-encoding': this.pick(['br;q=2', 'zzz', '*;q=0', 'gzip;q=0,identity;q=0']) }
        : {}),
    };
    const method = this.chance(0.06) ? this.pick(METHODS) : op.method;
    const body =
      this.chance(0.9) && op.body ? this.written(op.body) : this.chance(0.3) ? this.written({ type: 'object' }) : null;
    if (body !== null) {
      headers['content-type'] = this.chance(0.92) ? 'application/json' : this.pick(TYPES);
      if (this.chance(0.03)) headers['content-encoding'] = this.pick(['gzip', 'br', 'deflate', 'zzz']);
      headers['content-length'] = String(body.length);
    }
    // Some requests end sessions; whoever is signed out comes in again.
    if ((await this.send(office, at.door.url, { who, method, target, headers, body })) === 401 && at.personId)
      at.visitor = await at.door.visitor(at.personId);
  }

  /** No half characters in an address: there they cannot be written. */
  private fitForAddress(value: Json): string {
    return (typeof value === 'string' ? value : JSON.stringify(value)).replace(/[\ud800-\udfff]/g, '');
  }

  private written(schema: Schema): Buffer {
    const x = this.random.next();
    if (x < 0.03)
      return Buffer.from(this.pick(['{', '[]', 'null', '"x"', '1', '', '{"a":1,}', '\ufeff{}', '{"a":NaN}']));
    if (x < 0.05) return Buffer.from([0x7b, 0x22, 0xff, 0xfe, 0x22, 0x3a, 0x31, 0x7d]);
    if (x < 0.06) return Buffer.from(`${'['.repeat(3000)}${']'.repeat(3000)}`);
    if (x < 0.07) return Buffer.from(`{"__proto__":{"x":1},"constructor":{"prototype":{"y":1}}}`);
    // Written by hand, since JSON.stringify escapes halves of characters while others send them so.
    return Buffer.from(JSON.stringify(this.value(schema)));
  }

  /** A value of a schema, sometimes of no such kind at all. */
  private value(schema: Schema, depth = 0): Json {
    if (this.chance(0.12)) return this.anything(depth);
    if (schema.const !== undefined) return schema.const;
    if (schema.enum) return this.pick(schema.enum);
    if (schema.anyOf) return this.value(this.pick(schema.anyOf), depth);
    const type = Array.isArray(schema.type) ? this.pick(schema.type) : schema.type;
    switch (type) {
      case 'object': {
        const out: Record<string, Json> = {};
        for (const [name, inner] of Object.entries(schema.properties ?? {}))
          if (!this.chance(0.06)) out[name] = this.value(inner, depth + 1);
        return out;
      }
      case 'array':
        return Array.from({ length: this.random.int(0, 3) }, () => this.value(schema.items ?? {}, depth + 1));
      case 'integer':
      case 'number':
        return this.chance(0.5) ? this.random.int(0, 1000) : this.pick(NUMBERS);
      case 'boolean':
        return this.chance(0.5);
      case 'null':
        return null;
      case 'string':
        // Several of them are meant where commas stand between.
        if (this.chance(0.2)) return Array.from({ length: this.random.int(1, 3) }, () => this.pick(this.known)).join();
        return this.chance(0.35)
          ? this.pick(NASTY)
          : this.pick([
              'Rye',
              '201-555-0142',
              '+12125550123',
              'a@heron.example',
              'num_spec',
              '2030-03-12',
              'https://heron.example',
            ]);
      default:
        return this.anything(depth);
    }
  }

  private anything(depth: number): Json {
    if (depth > 3) return this.pick(NASTY);
    return this.pick<Json>([
      null,
      true,
      [],
      {},
      [[[[]]]],
      this.pick(NUMBERS),
      this.pick(NASTY),
      { length: 1e9 },
      Array.from({ length: 50 }, () => 'x'),
    ]);
  }

  private async send(
    office: Office,
    url: string,
    r: { who: string; method: string; target: string; headers: Record<string, string>; body: Buffer | null },
  ): Promise<number> {
    const before = this.counted.get(office) ?? (await rowsOf(office));
    const at = new URL(url);
    const fault = (what: string): void => {
      this.result.faults.push({
        request: `${r.who}: ${r.method} ${r.target.slice(0, 300)} ${r.body ? r.body.toString('utf8').slice(0, 300) : ''} ${JSON.stringify({ ...r.headers, cookie: '', 'x-csrf-token': '' })}`,
        what,
      });
    };
    this.result.sent++;
    const answer = await new Promise<{ status: number; type: string; body: string } | string>((resolve) => {
      const request = http.request(
        { host: at.hostname, port: at.port, method: r.method, path: r.target, headers: r.headers, agent: this.agent },
        (response) => {
          const type = response.headers['content-type'] ?? '';
          // The live stream goes on for ever.
          if (type.startsWith('text/event-stream')) {
            response.destroy();
            resolve({ status: response.statusCode ?? 0, type, body: '' });
            return;
          }
          const pieces: Buffer[] = [];
          response.on('data', (d: Buffer) => pieces.push(d));
          response.on('end', () => {
            resolve({ status: response.statusCode ?? 0, type, body: Buffer.concat(pieces).toString('utf8') });
          });
          response.on('error', (e) => resolve(`broken off: ${e.message}`));
        },
      );
      request.setTimeout(HANG_MS, () => {
        resolve('no answer');
        request.destroy();
      });
      request.on('error', (e) => resolve(`broken off: ${e.message}`));
      request.end(r.body ?? undefined);
    });
    if (typeof answer === 'string') {
      fault(answer);
      return 0;
    }
    this.result.statuses[answer.status] = (this.result.statuses[answer.status] ?? 0) + 1;
    if (answer.status >= 500) fault(`${answer.status} ${answer.body.slice(0, 200)}`);
    if (answer.status >= 400 && r.method !== 'HEAD') {
      const detail = detailOf(answer);
      if (detail === null)
        fault(`${answer.status} without problem details: ${answer.type} ${answer.body.slice(0, 100)}`);
      else if (PARSERS.test(detail)) fault(`in a parser’s words: ${detail}`);
    }
    // What a good one set off, a jump of the clock for one, is over before the next is looked at.
    if (answer.status < 400) await office.app.platform.engine.settled();
    const after = await rowsOf(office);
    if (answer.status >= 400 && after !== before)
      fault(`${answer.status}, but rows changed: ${difference(before, after)}`);
    this.counted.set(office, after);
    return answer.status;
  }
}

/** What a refusal says; null where it is none in problem details. */
function detailOf(answer: { status: number; type: string; body: string }): string | null {
  if (!answer.type.startsWith('application/problem+json')) return null;
  try {
    const { status, detail, code } = JSON.parse(answer.body) as Record<string, unknown>;
    return status === answer.status && typeof detail === 'string' && typeof code === 'string' ? detail : null;
  } catch {
    return null;
  }
}

const statements = new Map<Office, string>();

/** How many rows each table has, as one text. */
async function rowsOf(office: Office): Promise<string> {
  const { db } = office.app.platform;
  let sql = statements.get(office);
  if (sql === undefined) {
    const tables = await tableNames(db);
    sql = tables
      .filter((name) => !MAY_CHANGE.includes(name))
      .map((name) => `SELECT '${name}' AS name, count(*) AS n FROM "${name}"`)
      .join(' UNION ALL ');
    statements.set(office, sql);
  }
  return (await db.all<{ name: string; n: number }>(sql)).map((t) => `${t.name}=${t.n}`).join(' ');
}

function difference(before: string, after: string): string {
  const was = new Set(before.split(' '));
  return after
    .split(' ')
    .filter((t) => !was.has(t))
    .join(', ');
}
