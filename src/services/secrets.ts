import {
  createCipheriv,
  createDecipheriv,
  createHash,
  createHmac,
  hkdfSync,
  randomBytes,
  scrypt,
  timingSafeEqual,
} from 'node:crypto';

/** Keys derived from the installation's secret, one a purpose. */
export type KeyPurpose = 'payout details' | 'visitors' | 'sessions' | 'postback signatures' | 'customers';

export function deriveKey(secret: string, purpose: KeyPurpose): Buffer {
  if (secret.length < 32) throw new Error('BRIVET_SECRET must have at least 32 characters.');
  return Buffer.from(hkdfSync('sha256', secret, 'brivet', purpose, 32));
}

export const sha256 = (text: string): string => createHash('sha256').update(text).digest('hex');

/** An unguessable key or token: 32 random bytes, told apart by its prefix. Only its hash is stored. */
export const drawToken = (prefix: string): string => `${prefix}_${randomBytes(32).toString('base64url')}`;

/** The secret with which a program's merchant signs postbacks. It follows from the installation's: none is stored. */
export const signingSecret = (key: Buffer, programId: number, version: number): string =>
  `bvs_${createHmac('sha256', key).update(`${programId}/${version}`).digest('base64url')}`;

/** HMAC-SHA256, in hexadecimal (RFC 2104). */
export const hmac = (key: string | Buffer, text: string): string =>
  createHmac('sha256', key).update(text).digest('hex');

/** Hashes the IDs of a program's customers: the same one is known again, and never who it is. 32 hexadecimal digits. */
export const customerHasher =
  (key: Buffer, programId: number) =>
  (customer: string): string =>
    hmac(key, `${programId}/${customer}`).slice(0, 32);

export function sameText(a: string, b: string): boolean {
  const [left, right] = [Buffer.from(a), Buffer.from(b)];
  return left.length === right.length && timingSafeEqual(left, right);
}

/** AES-256-GCM: 12 bytes of nonce, 16 of tag, then the text. */
export function seal(key: Buffer, text: string): Buffer {
  const nonce = randomBytes(12);
  const cipher = createCipheriv('aes-256-gcm', key, nonce);
  const body = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()]);
  return Buffer.concat([nonce, cipher.getAuthTag(), body]);
}

/** @throws when the sealed text was changed or sealed with another key */
export function unseal(key: Buffer, sealed: Buffer): string {
  // GCM itself would take a shorter tag, which is easier to guess.
  const decipher = createDecipheriv('aes-256-gcm', key, sealed.subarray(0, 12), { authTagLength: 16 });
  decipher.setAuthTag(sealed.subarray(12, 28));
  return decipher.update(sealed.subarray(28), undefined, 'utf8') + decipher.final('utf8');
}

const SCRYPT = { N: 2 ** 15, r: 8, p: 1, maxmem: 64 * 1024 * 1024 };
const derive = (password: string, salt: Buffer): Promise<Buffer> =>
  new Promise((resolve, reject) =>
    scrypt(password.normalize('NFC'), salt, 32, SCRYPT, (error, key) => (error ? reject(error) : resolve(key))),
  );

export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16);
  return `scrypt$${salt.toString('base64')}$${(await derive(password, salt)).toString('base64')}`;
}

export async function passwordFits(password: string, stored: string): Promise<boolean> {
  const [, salt = '', hash = ''] = stored.split('$');
  const expected = Buffer.from(hash, 'base64');
  const actual = await derive(password, Buffer.from(salt, 'base64'));
  return expected.length === actual.length && timingSafeEqual(expected, actual);
}
