const CROCKFORD = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';

/** A click, receipt or request ID: 26 characters of Crockford base32 (ULID specification). */
export const isUlid = (text: string): boolean => /^[0-7][0-9A-HJKMNP-TV-Z]{25}$/.test(text);

const CODES = Uint8Array.from(CROCKFORD, (sign) => sign.charCodeAt(0));
const LENGTH = 26;
const TIME_SIGNS = 10;
/** Codes of the ID being made. The first ten stand as long as its time does. */
const signs = new Array<number>(LENGTH).fill(0);
let signsTime = -1;

/**
 * Made from codes at once: a text joined of pieces would be joined again by everyone who reads it.
 * @param time milliseconds since 1970, up to 2^48 − 1: the first 10 characters
 * @param random at least 10 bytes from `offset` on: 80 bits, the last 16 characters
 */
export function makeUlid(time: number, random: Uint8Array, offset = 0): string {
  if (time !== signsTime) writeTime(time);
  const byte = (at: number): number => random[offset + at] ?? 0;
  for (let i = 0, at = TIME_SIGNS; i < 10; i += 5, at += 8) {
    write20(at, (byte(i) << 12) | (byte(i + 1) << 4) | (byte(i + 2) >> 4));
    write20(at + 4, ((byte(i + 2) & 15) << 16) | (byte(i + 3) << 8) | byte(i + 4));
  }
  return String.fromCharCode(...signs);
}

const code = (fiveBits: number): number => CODES[fiveBits] ?? 0;

/** 20 bits as four characters. */
function write20(at: number, bits: number): void {
  signs[at] = code(bits >> 15);
  signs[at + 1] = code((bits >> 10) & 31);
  signs[at + 2] = code((bits >> 5) & 31);
  signs[at + 3] = code(bits & 31);
}

function writeTime(time: number): void {
  for (let rest = time, i = TIME_SIGNS - 1; i >= 0; i--) {
    signs[i] = code(rest % 32);
    rest = Math.floor(rest / 32);
  }
  signsTime = time;
}

/** The time a ULID was made, in milliseconds. */
export const ulidTime = (id: string): number =>
  [...id.slice(0, 10)].reduce((time, sign) => time * 32 + CROCKFORD.indexOf(sign), 0);
