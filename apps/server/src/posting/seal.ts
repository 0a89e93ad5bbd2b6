import { createCipheriv, createDecipheriv, hkdfSync, randomBytes } from 'node:crypto';

const NONCE = 12;
const TAG = 16;

/**
 * Seals small secrets with a key made of the data folder's own (AES-256-GCM, the key by HKDF-SHA-256). What is sealed says what it is
 * for, and opens for nothing else.
 */
export class Seal {
  private readonly key: Buffer;

  constructor(secret: string) {
    this.key = Buffer.from(hkdfSync('sha256', secret, '', 'flimzy tokens of platforms', 32));
  }

  close(text: string, purpose: string): string {
    const nonce = randomBytes(NONCE);
    const cipher = createCipheriv('aes-256-gcm', this.key, nonce).setAAD(Buffer.from(purpose));
    const sealed = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()]);
    return Buffer.concat([nonce, cipher.getAuthTag(), sealed]).toString('base64');
  }

  /** Null when it was sealed with another key, for something else, or was changed. */
  open(sealed: string, purpose: string): string | null {
    const bytes = Buffer.from(sealed, 'base64');
    try {
      const opener = createDecipheriv('aes-256-gcm', this.key, bytes.subarray(0, NONCE), { authTagLength: TAG })
        .setAAD(Buffer.from(purpose))
        .setAuthTag(bytes.subarray(NONCE, NONCE + TAG));
      return opener.update(bytes.subarray(NONCE + TAG), undefined, 'utf8') + opener.final('utf8');
    } catch {
      return null;
    }
  }
}
