import fc from 'fast-check';
import { expect, test } from 'vitest';
import { AddressSet, ipv4, readRanges } from './addresses';

const dotted = (value: number): string => [24, 16, 8, 0].map((by) => (value >>> by) & 255).join('.');
const groups = (words: readonly number[]): string => words.map((word) => word.toString(16)).join(':');

test('an address is in a set exactly when one of the ranges covers it, IPv4', () => {
  const range = fc.tuple(fc.nat({ max: 0xffffffff }), fc.integer({ min: 8, max: 32 }));
  fc.assert(
    fc.property(fc.array(range, { maxLength: 12 }), fc.nat({ max: 0xffffffff }), (ranges, any) => {
      const { set, count, problems } = readRanges(
        ranges.map(([base, length]) => `${dotted(base)}/${length}`).join('\n'),
      );
      const covered = (value: number): boolean =>
        ranges.some(([base, length]) => (length === 0 ? true : base >>> (32 - length) === value >>> (32 - length)));
      const near = ranges.flatMap(([base, length]) => {
        const size = 2 ** (32 - length);
        const first = Math.floor(base / size) * size;
        return [first - 1, first, first + size - 1, first + size].filter((each) => each >= 0 && each <= 0xffffffff);
      });
      for (const value of [any, ...near]) expect(set.has(dotted(value))).toBe(covered(value));
      expect([count, problems]).toEqual([ranges.length, []]);
    }),
  );
});

test('the same for IPv6, and a set read back is the same set', () => {
  const words = fc.array(fc.nat({ max: 0xffff }), { minLength: 8, maxLength: 8 });
  fc.assert(
    fc.property(words, fc.integer({ min: 1, max: 128 }), fc.nat({ max: 127 }), (base, length, flip) => {
      const { set } = readRanges(`# a list\n${groups(base)}/${length}, remark\n`);
      const other = base.map((word, i) => (i === flip >> 4 ? word ^ (0x8000 >>> (flip & 15)) : word));
      const again = AddressSet.read(set.stored());
      for (const each of [set, again]) {
        expect(each.has(groups(base))).toBe(true);
        // One bit within the prefix is another network, one beyond it the same.
        expect(each.has(groups(other))).toBe(flip >= length);
        expect(each.has('192.0.2.1')).toBe(false);
      }
    }),
  );
});

test('a cut address touches a set exactly when an address of its network is in it', () => {
  const { set } = readRanges('192.0.2.77\n198.51.100.0/25\n10.0.0.0/8\n2001:db8:7:9::/64');
  const touched = (address: string): boolean => set.touches(address);
  expect(['192.0.2.0', '198.51.100.0', '10.9.8.0', '2001:db8:7::'].every(touched)).toBe(true);
  expect(['192.0.1.0', '192.0.3.0', '198.51.101.0', '11.0.0.0', '2001:db8:8::', 'ab12'].some(touched)).toBe(false);
});

test('what is no address is named with its line, and the others are read', () => {
  const { set, count, problems } = readRanges(
    '192.0.2.0/24\nnonsense\n\n# remark\n2001:db8::/33x\n198.51.100.7 a host\n1.2.3.4/33',
  );
  expect(count).toBe(2);
  expect(problems.map(({ line }) => line)).toEqual([2, 5, 7]);
  expect(['192.0.2.255', '198.51.100.7', '198.51.100.8', '', '::1', 'x'].map((each) => set.has(each))).toEqual([
    true,
    true,
    false,
    false,
    false,
    false,
  ]);
  expect(['1.2.3', '1.2.3.4.5', '256.1.1.1', '1..2.3', ' 1.2.3.4'].map(ipv4)).toEqual([-1, -1, -1, -1, -1]);
});
