import fc from 'fast-check';
import { expect, test } from 'vitest';
import { isUlid, makeUlid, ulidTime } from './ulid';

const CROCKFORD = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';
/** The 128 bits of an ID, as a plain reader of the specification takes them. */
const bitsOf = (id: string): bigint => [...id].reduce((bits, sign) => bits * 32n + BigInt(CROCKFORD.indexOf(sign)), 0n);

test('a ULID is 48 bits of time and 80 of chance, each in its place, whatever was made before it', () => {
  const time = fc.integer({ min: 0, max: 2 ** 48 - 1 });
  const random = fc.uint8Array({ minLength: 10, maxLength: 10 });
  fc.assert(
    fc.property(fc.array(fc.tuple(time, random, fc.nat({ max: 20 })), { minLength: 1 }), (made) => {
      for (const [at, bytes, offset] of made) {
        const id = makeUlid(at, Uint8Array.of(...new Uint8Array(offset), ...bytes), offset);
        expect(isUlid(id)).toBe(true);
        expect(ulidTime(id)).toBe(at);
        expect(bitsOf(id)).toBe(bytes.reduce((bits, byte) => bits * 256n + BigInt(byte), BigInt(at)));
      }
    }),
  );
});
