import type { Server } from 'node:http';
import type { App } from '../app.js';

export interface Answer {
  status: number;
  type: string;
  headers: Headers;
  /** The body as JSON where it is, else as text. */
  body: Record<string, unknown> & { code?: string; detail?: string };
}

/** The application over HTTP, as a browser or a stranger meets it. */
export class Door {
  private constructor(
    private readonly app: App,
    private readonly server: Server,
    readonly url: string,
  ) {}

  static async open(app: App): Promise<Door> {
    const server = await new Promise<Server>((resolve) => {
      const s = app.koa.listen(0, '127.0.0.1', () => resolve(s));
    });
    const address = server.address();
    return new Door(app, server, `http://127.0.0.1:${typeof address === 'object' && address ? address.port : 0}`);
  }

  /** Somebody at the door; of a person a session is opened, nobody has none. */
  async visitor(userId?: string): Promise<Visitor> {
    if (userId === undefined) return new Visitor(this.url, '', '');
    const token = await this.app.platform.db.write((w) =>
      this.app.sessions.open(w, userId, { address: '192.0.2.1', agent: 'a spec' }, undefined),
    );
    return new Visitor(this.url, `long_gate=${token}`, (await this.app.sessions.byToken(token))?.csrf ?? '');
  }

  async close(): Promise<void> {
    this.server.closeAllConnections();
    await new Promise((done) => this.server.close(done));
  }
}

/** One browser: its cookie, and the token its pages carry. */
export class Visitor {
  constructor(
    private readonly url: string,
    public cookie: string,
    public csrf: string,
  ) {}

  async ask(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Answer> {
    const response = await fetch(`${this.url}/api/v1${path}`, {
      method,
      headers: {
        ...(this.cookie ? { cookie: this.cookie } : {}),
        ...(this.csrf ? { 'x-csrf-token': this.csrf } : {}),
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
        ...headers,
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
      redirect: 'manual',
      signal: AbortSignal.timeout(120_000),
    });
    const set = response.headers.get('set-cookie');
    if (set) this.cookie = set.split(';')[0] ?? '';
    const type = response.headers.get('content-type') ?? '';
    // The live stream has no end; what matters here is that it began.
    if (type.startsWith('text/event-stream')) {
      await response.body?.cancel();
      return { status: response.status, type, headers: response.headers, body: {} };
    }
    const text = await response.text();
    let read: unknown = text;
    try {
      read = JSON.parse(text);
    } catch {
      // Not JSON; the text itself is the body.
    }
    const bodyRead = (typeof read === 'object' && read !== null ? read : { text }) as Answer['body'];
    if (typeof bodyRead['csrf'] === 'string') this.csrf = bodyRead['csrf'];
    return { status: response.status, type, headers: response.headers, body: bodyRead };
  }
}
