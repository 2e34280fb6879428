import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';
import { readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';

/** Encrypts secrets at rest (AES-256-GCM). The key comes from LONG_GATE_KEY or a key file in the data folder. */
export class Vault {
  private constructor(private readonly key: Buffer) {}

  /** @throws Error when LONG_GATE_KEY is not 64 hex digits. */
  static async open(dataDir: string, fromEnvironment: string | undefined): Promise<Vault> {
    if (fromEnvironment) {
      if (!/^[0-9a-f]{64}$/i.test(fromEnvironment))
        throw new Error('LONG_GATE_KEY must be 64 hexadecimal digits (256 bits).');
      return new Vault(Buffer.from(fromEnvironment, 'hex'));
    }
    const file = path.join(dataDir, 'secret.key');
    try {
      return new Vault(Buffer.from((await readFile(file, 'utf8')).trim(), 'hex'));
    } catch {
      const key = randomBytes(32);
      await writeFile(file, key.toString('hex'), { mode: 0o600, flag: 'wx' });
      return new Vault(key);
    }
  }

  seal(plain: string): string {
    return plain === '' ? '' : this.sealBytes(Buffer.from(plain, 'utf8')).toString('base64');
  }

  /** 12 bytes of nonce, 16 of tag, then the body. */
  sealBytes(plain: Buffer): Buffer {
    const iv = randomBytes(12);
    const cipher = createCipheriv('aes-256-gcm', this.key, iv);
    const body = Buffer.concat([cipher.update(plain), cipher.final()]);
    return Buffer.concat([iv, cipher.getAuthTag(), body]);
  }

  /** @throws Error when the text was tampered with or sealed under another key. */
  unseal(sealed: string): string {
    return sealed === '' ? '' : this.unsealBytes(Buffer.from(sealed, 'base64')).toString('utf8');
  }

  /** @throws Error when the bytes were tampered with or sealed under another key. */
  unsealBytes(raw: Buffer): Buffer {
    const decipher = createDecipheriv('aes-256-gcm', this.key, raw.subarray(0, 12));
    decipher.setAuthTag(raw.subarray(12, 28));
    return Buffer.concat([decipher.update(raw.subarray(28)), decipher.final()]);
  }
}
