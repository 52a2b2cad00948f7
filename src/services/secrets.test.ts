import fc from 'fast-check';
import { expect, test } from 'vitest';
import {
  type KeyPurpose,
  customerHasher,
  deriveKey,
  drawToken,
  hashPassword,
  hmac,
  passwordFits,
  sameText,
  seal,
  signingSecret,
  unseal,
} from './secrets';

const SECRET = 'a secret of an installation, long enough';
const key = deriveKey(SECRET, 'payout details');
const text = fc.string({ unit: 'grapheme' });

test('what is sealed comes back; changed anywhere, or with another key, it does not', () => {
  const other = deriveKey(`${SECRET}.`, 'payout details');
  fc.assert(
    fc.property(text, fc.nat(), fc.integer({ min: 1, max: 255 }), (plain, where, change) => {
      const sealed = seal(key, plain);
      expect(unseal(key, sealed)).toBe(plain);
      expect(() => unseal(other, sealed)).toThrow();
      const changed = Buffer.from(sealed);
      const at = where % changed.length;
      changed.writeUInt8(changed.readUInt8(at) ^ change, at);
      expect(() => unseal(key, changed)).toThrow();
      expect(() => unseal(key, sealed.subarray(0, at))).toThrow();
      // Nobody sees that two are the same.
      expect(seal(key, plain).equals(sealed)).toBe(false);
    }),
  );
});

test('each purpose has a key of its own, which follows from the secret', () => {
  const purposes: KeyPurpose[] = ['payout details', 'visitors', 'sessions', 'postback signatures', 'customers'];
  const keys = purposes.map((purpose) => deriveKey(SECRET, purpose).toString('hex'));
  expect(new Set(keys).size).toBe(purposes.length);
  expect(purposes.map((purpose) => deriveKey(SECRET, purpose).toString('hex'))).toEqual(keys);
  expect(() => deriveKey('too short', 'sessions')).toThrow('BRIVET_SECRET');
});

test('HMAC-SHA256 against the examples of RFC 4231', () => {
  expect(hmac(Buffer.alloc(20, 0x0b), 'Hi There')).toBe(
    'b0344c61d8db38535ca8afceaf0bf12b881dc200c9833da726e9376c2e32cff7',
  );
  expect(hmac('Jefe', 'what do ya want for nothing?')).toBe(
    '5bdcc146bf60754e6a042426089575c75a003f089d2739839dec58b964ec3843',
  );
});

test('customers are the same within a program, strangers in another', () => {
  fc.assert(
    fc.property(text, text, fc.integer({ min: 1, max: 99 }), (one, two, program) => {
      const hash = customerHasher(key, program);
      expect(hash(one)).toMatch(/^[0-9a-f]{32}$/);
      expect(hash(one) === hash(two)).toBe(one === two);
      expect(customerHasher(key, program + 1)(one)).not.toBe(hash(one));
    }),
  );
  // A program's number and a customer's ID do not run into each other.
  expect(customerHasher(key, 1)('1/x')).not.toBe(customerHasher(key, 11)('x'));
});

test('a renewed signing secret is another one, and tokens never come twice', () => {
  const secrets = [1, 2].flatMap((program) => [1, 2].map((version) => signingSecret(key, program, version)));
  expect(new Set(secrets).size).toBe(4);
  const tokens = Array.from({ length: 100 }, () => drawToken('bvt'));
  expect(new Set(tokens).size).toBe(100);
  expect(tokens.every((token) => /^bvt_[\w-]{43}$/.test(token))).toBe(true);
});

test('texts are the same or not, of any length', () => {
  fc.assert(
    fc.property(text, text, (a, b) => {
      expect([sameText(a, a), sameText(a, b)]).toEqual([true, a === b]);
    }),
  );
});

test('a password fits its hash alone, however its accents were typed, and two hashes of it differ', async () => {
  const [one, two] = await Promise.all([hashPassword('kiln à glaze'), hashPassword('kiln à glaze')]);
  expect(one).not.toBe(two);
  expect(one).not.toContain('kiln');
  const tries = ['kiln à glaze', 'kiln a\u0300 glaze', 'kiln a glaze', ''];
  expect(await Promise.all(tries.map((each) => passwordFits(each, one)))).toEqual([true, true, false, false]);
  expect(await passwordFits('x', 'not a hash')).toBe(false);
});
