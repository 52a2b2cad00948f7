const CROCKFORD = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';

/** A click, receipt or request ID: 26 characters of Crockford base32 (ULID specification). */
export const isUlid = (text: string): boolean => /^[0-7][0-9A-HJKMNP-TV-Z]{25}$/.test(text);

/**
 * @param time milliseconds since 1970, up to 2^48 − 1: the first 10 characters
 * @param random at least 10 bytes from `offset` on: 80 bits, the last 16 characters
 */
export function makeUlid(time: number, random: Uint8Array, offset = 0): string {
  let head = '';
  for (let rest = time, i = 0; i < 10; i++) {
    head = CROCKFORD.charAt(rest % 32) + head;
    rest = Math.floor(rest / 32);
  }
  let tail = '';
  for (let i = 0; i < 10; i += 5) {
    const at = offset + i;
    const b = [0, 1, 2, 3, 4].map((n) => random[at + n] ?? 0) as [number, number, number, number, number];
    tail +=
      CROCKFORD.charAt(b[0] >> 3) +
      CROCKFORD.charAt(((b[0] & 7) << 2) | (b[1] >> 6)) +
      CROCKFORD.charAt((b[1] >> 1) & 31) +
      CROCKFORD.charAt(((b[1] & 1) << 4) | (b[2] >> 4)) +
      CROCKFORD.charAt(((b[2] & 15) << 1) | (b[3] >> 7)) +
      CROCKFORD.charAt((b[3] >> 2) & 31) +
      CROCKFORD.charAt(((b[3] & 3) << 3) | (b[4] >> 5)) +
      CROCKFORD.charAt(b[4] & 31);
  }
  return head + tail;
}

/** The time a ULID was made, in milliseconds. */
export const ulidTime = (id: string): number =>
  [...id.slice(0, 10)].reduce((time, sign) => time * 32 + CROCKFORD.indexOf(sign), 0);
