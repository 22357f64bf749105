import { createCipheriv, createDecipheriv, hkdfSync, randomBytes } from 'node:crypto';

const NONCE = 12;
const TAG = 16;

/** Keeps secrets of others in the database so that only this installation can read them. */
export interface Seal {
  close(secret: string): Buffer;
  /** @returns null when it was sealed with another secret, or was tampered with */
  open(sealed: Buffer): string | null;
}

/** AES-256-GCM (NIST SP 800-38D) under a key drawn from the installation's secret by HKDF (RFC 5869). */
export function makeSeal(installationSecret: string): Seal {
  const key = Buffer.from(hkdfSync('sha256', installationSecret, 'under-lamp', 'sealed secrets', 32));
  return {
    close(secret) {
      const nonce = randomBytes(NONCE);
      const cipher = createCipheriv('aes-256-gcm', key, nonce);
      const body = Buffer.concat([cipher.update(secret, 'utf8'), cipher.final()]);
      return Buffer.concat([nonce, cipher.getAuthTag(), body]);
    },
    open(sealed) {
      try {
        const decipher = createDecipheriv('aes-256-gcm', key, sealed.subarray(0, NONCE));
        decipher.setAuthTag(sealed.subarray(NONCE, NONCE + TAG));
        return decipher.update(sealed.subarray(NONCE + TAG), undefined, 'utf8') + decipher.final('utf8');
      } catch {
        return null;
      }
    },
  };
}
