import {
  createHash,
  createPrivateKey,
  createPublicKey,
  generateKeyPairSync,
  sign,
  verify,
  type KeyObject,
} from 'node:crypto';
import { mkdir, open, readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { fingerprintOf, type SignedHead } from '@long-gate/core';

/** A chain's head as it was signed. `at` is scenario time, milliseconds. */
export interface HeadRecord extends SignedHead {
  chain: string;
  at: number;
  /** Ed25519 over `chain`, `count`, `head` and `at`, each on a line; base64. */
  signature: string;
}

const words = (h: Omit<HeadRecord, 'signature'>): Buffer => Buffer.from(`${h.chain}\n${h.count}\n${h.head}\n${h.at}`);

/**
 * Signs the head and count of each proof chain, in a file apart from the database, with a key that is never in it. A
 * chain that was cut off, or written anew with all its hashes, no longer fits what was signed. (RFC 8032)
 */
export class Heads {
  private readonly last = new Map<string, number>();

  private constructor(
    private readonly file: string,
    private readonly key: KeyObject,
    private readonly publicKey: KeyObject,
  ) {}

  /** @param dir where key and heads are kept; a folder of its own, best on another disk than the database. */
  static async open(dir: string): Promise<Heads> {
    await mkdir(dir, { recursive: true, mode: 0o700 });
    const keyFile = path.join(dir, 'signing.key');
    const pem = await readFile(keyFile, 'utf8').catch(async () => {
      const made = generateKeyPairSync('ed25519').privateKey.export({ type: 'pkcs8', format: 'pem' }).toString();
      await writeFile(keyFile, made, { mode: 0o600, flag: 'wx' });
      return made;
    });
    const key = createPrivateKey(pem);
    return new Heads(path.join(dir, 'heads.jsonl'), key, createPublicKey(key));
  }

  /** For whoever checks an export without us: the public key as PEM. */
  get publicPem(): string {
    return this.publicKey.export({ type: 'spki', format: 'pem' }).toString();
  }

  /** Of the 32 bytes of the public key, as people read it to one another. */
  get fingerprint(): string {
    const raw = this.publicKey.export({ type: 'spki', format: 'der' }).subarray(-32);
    return fingerprintOf(createHash('sha256').update(raw).digest('hex'));
  }

  /** Ed25519 over a message that is handed out with it, 64 bytes. */
  signature(message: Uint8Array): Buffer {
    return sign(null, message, this.key);
  }

  /** Whether a signature is ours over a message. */
  holds(message: Uint8Array, signature: Uint8Array): boolean {
    return verify(null, message, this.publicKey, signature);
  }

  /** Signs where a chain stands; the same count again is not signed twice. On disk when it returns. */
  async sign(chain: string, head: SignedHead, at: number): Promise<void> {
    if (head.count === 0 || this.last.get(chain) === head.count) return;
    const record = { chain, count: head.count, head: head.head, at: Math.round(at) };
    const line = JSON.stringify({ ...record, signature: sign(null, words(record), this.key).toString('base64') });
    const file = await open(this.file, 'a', 0o600);
    try {
      await file.appendFile(`${line}\n`);
      await file.sync();
    } finally {
      await file.close();
    }
    this.last.set(chain, head.count);
  }

  /** The signed heads of a chain, and how many lines about it do not bear our signature. */
  async of(chain: string): Promise<{ heads: HeadRecord[]; forged: number }> {
    const text = await readFile(this.file, 'utf8').catch(() => '');
    const heads: HeadRecord[] = [];
    let forged = 0;
    for (const line of text.split('\n')) {
      if (line === '') continue;
      const h = parse(line);
      if (h === null) forged++;
      else if (h.chain === chain) {
        if (verify(null, words(h), this.publicKey, Buffer.from(h.signature, 'base64'))) heads.push(h);
        else forged++;
      }
    }
    return { heads, forged };
  }
}

function parse(line: string): HeadRecord | null {
  try {
    const h = JSON.parse(line) as Partial<HeadRecord>;
    return typeof h.chain === 'string' &&
      typeof h.count === 'number' &&
      typeof h.head === 'string' &&
      typeof h.at === 'number' &&
      typeof h.signature === 'string'
      ? (h as HeadRecord)
      : null;
  } catch {
    // The last line of a crash in the middle of writing: nothing was signed by it.
    return null;
  }
}
