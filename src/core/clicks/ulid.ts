const CROCKFORD = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';

/** A click, receipt or request ID: 26 characters of Crockford base32 (ULID specification). */
export const isUlid = (text: string): boolean => /^[0-7][0-9A-HJKMNP-TV-Z]{25}$/.test(text);

/**
 * @param time milliseconds since 1970, up to 2^48 − 1: the first 10 characters
 * @param random at least 10 bytes from `offset` on: 80 bits, the last 16 characters
 */
export function makeUlid(time: number, random: Uint8Array, offset = 0): string {
  const byte = (at: number): number => random[offset + at] ?? 0;
  let tail = '';
  for (let i = 0; i < 10; i += 5) {
    const high = (byte(i) << 12) | (byte(i + 1) << 4) | (byte(i + 2) >> 4);
    const low = ((byte(i + 2) & 15) << 16) | (byte(i + 3) << 8) | byte(i + 4);
    tail += fourSigns(high) + fourSigns(low);
  }
  return ulidPrefix(time) + tail;
}

/** 20 bits as four characters. */
const fourSigns = (bits: number): string =>
  CROCKFORD.charAt(bits >> 15) +
  CROCKFORD.charAt((bits >> 10) & 31) +
  CROCKFORD.charAt((bits >> 5) & 31) +
  CROCKFORD.charAt(bits & 31);

let prefixTime = -1;
let prefix = '';
/** The signs of the time are the same for all IDs of a millisecond. */
function ulidPrefix(time: number): string {
  if (time !== prefixTime) {
    prefix = timeSigns(time);
    prefixTime = time;
  }
  return prefix;
}

function timeSigns(time: number): string {
  let signs = '';
  for (let rest = time, i = 0; i < 10; i++) {
    signs = CROCKFORD.charAt(rest % 32) + signs;
    rest = Math.floor(rest / 32);
  }
  return signs;
}

/** The time a ULID was made, in milliseconds. */
export const ulidTime = (id: string): number =>
  [...id.slice(0, 10)].reduce((time, sign) => time * 32 + CROCKFORD.indexOf(sign), 0);
