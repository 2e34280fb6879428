import { createCipheriv, createDecipheriv, createHmac, randomBytes } from 'node:crypto';
import { access, open, readFile, rename } from 'node:fs/promises';
import path from 'node:path';

/** The file of keys in the data folder: the present one first, older ones after it for reading, one a line. */
export const KEY_FILE = 'secret.key';
/** Whether a data folder has a key file. */
export function hasKeyFile(dataDir: string): Promise<boolean> {
  return access(path.join(dataDir, KEY_FILE)).then(
    () => true,
    () => false,
  );
}

const HEX = /^[0-9a-f]{64}$/i;

function keyOf(hex: string, where: string): Buffer {
  if (!HEX.test(hex)) throw new Error(`${where} must be 64 hexadecimal digits (256 bits).`);
  return Buffer.from(hex, 'hex');
}

/**
 * Encrypts secrets at rest (AES-256-GCM). The key comes from LONG_GATE_KEY or a key file in the data folder. Older keys
 * are kept for reading until everything was sealed anew.
 */
export class Vault {
  private constructor(
    private readonly keys: readonly [Buffer, ...Buffer[]],
    readonly fromEnvironment: boolean,
  ) {}

  /**
   * @param env LONG_GATE_KEY, and LONG_GATE_OLD_KEYS with commas between.
   * @throws Error that says which key is no key.
   */
  static async open(dataDir: string, env: { key?: string | undefined; oldKeys?: string | undefined }): Promise<Vault> {
    if (env.key) {
      const old = (env.oldKeys ?? '').split(',').map((k) => k.trim());
      return new Vault(
        [keyOf(env.key, 'LONG_GATE_KEY'), ...old.filter(Boolean).map((k) => keyOf(k, 'Each of LONG_GATE_OLD_KEYS'))],
        true,
      );
    }
    const file = path.join(dataDir, KEY_FILE);
    const kept = await readFile(file, 'utf8').catch((error: unknown) => {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null;
      throw error as Error;
    });
    if (kept !== null) {
      const [first, ...old] = kept.split(/\s+/).filter(Boolean);
      const where = `Each line of ${KEY_FILE}`;
      return new Vault([keyOf(first ?? '', where), ...old.map((k) => keyOf(k, where))], false);
    }
    const key = randomBytes(32);
    await writeKeys(dataDir, [key]);
    return new Vault([key], false);
  }

  /** Whether older keys are kept beside the present one. */
  get renewing(): boolean {
    return this.keys.length > 1;
  }

  /** A vault that seals under a new key and reads the old ones; the key file names them all. */
  async renewed(dataDir: string): Promise<Vault> {
    const keys: [Buffer, ...Buffer[]] = [randomBytes(32), ...this.keys];
    await writeKeys(dataDir, keys);
    return new Vault(keys, false);
  }

  /** Forgets the older keys; everything has to be sealed under the present one. */
  async forgetOld(dataDir: string): Promise<Vault> {
    await writeKeys(dataDir, [this.keys[0]]);
    return new Vault([this.keys[0]], false);
  }

  /** 32 bytes that only this key makes of these words (HMAC-SHA-256). */
  mac(words: string): Buffer {
    return createHmac('sha256', this.keys[0]).update(words).digest();
  }

  seal(plain: string): string {
    return plain === '' ? '' : this.sealBytes(Buffer.from(plain, 'utf8')).toString('base64');
  }

  /** 12 bytes of nonce, 16 of tag, then the body. */
  sealBytes(plain: Buffer): Buffer {
    const iv = randomBytes(12);
    const cipher = createCipheriv('aes-256-gcm', this.keys[0], iv);
    const body = Buffer.concat([cipher.update(plain), cipher.final()]);
    return Buffer.concat([iv, cipher.getAuthTag(), body]);
  }

  /** @throws Error when the text was tampered with or sealed under a key that is not here. */
  unseal(sealed: string): string {
    return sealed === '' ? '' : this.unsealBytes(Buffer.from(sealed, 'base64')).toString('utf8');
  }

  /** @throws Error when the bytes were tampered with or sealed under a key that is not here. */
  unsealBytes(raw: Buffer): Buffer {
    for (const [i, key] of this.keys.entries()) {
      try {
        return openUnder(key, raw);
      } catch (error) {
        if (i === this.keys.length - 1) throw error;
      }
    }
    throw new Error('no key');
  }

  /** Whether it was sealed under the present key. */
  isPresent(raw: Buffer): boolean {
    try {
      openUnder(this.keys[0], raw);
      return true;
    } catch {
      return false;
    }
  }
}

function openUnder(key: Buffer, raw: Buffer): Buffer {
  const decipher = createDecipheriv('aes-256-gcm', key, raw.subarray(0, 12));
  decipher.setAuthTag(raw.subarray(12, 28));
  return Buffer.concat([decipher.update(raw.subarray(28)), decipher.final()]);
}

/** Written whole or not at all: a crash leaves the file of before. */
async function writeKeys(dataDir: string, keys: readonly Buffer[]): Promise<void> {
  const file = path.join(dataDir, KEY_FILE);
  const handle = await open(`${file}.new`, 'w', 0o600);
  try {
    await handle.writeFile(`${keys.map((k) => k.toString('hex')).join('\n')}\n`);
    await handle.sync();
  } finally {
    await handle.close();
  }
  await rename(`${file}.new`, file);
}
