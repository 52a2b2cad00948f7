import ipaddr from 'ipaddr.js';

/** Addresses from `first` to `last`, both inclusive, as numbers of 32 (IPv4) or 128 (IPv6) bits. */
interface Range {
  readonly first: bigint;
  readonly last: bigint;
}
export interface ReadRanges {
  readonly set: AddressSet;
  /** Ranges that were read, before those that touch were joined. */
  readonly count: number;
  readonly problems: readonly { line: number; reason: string }[];
}

const numberOf = (bytes: readonly number[]): bigint => bytes.reduce((sum, byte) => (sum << 8n) | BigInt(byte), 0n);
const LOW = 0xffff_ffff_ffff_ffffn;

/** "192.0.2.7" as a number of 32 bits, or -1 for what is not a dotted quad. */
export function ipv4(text: string): number {
  let value = 0;
  let part = -1;
  let dots = 0;
  for (let i = 0; i < text.length; i++) {
    const digit = text.charCodeAt(i) - 48;
    if (digit === -2) {
      if (part < 0 || ++dots > 3) return -1;
      value = value * 256 + part;
      part = -1;
    } else if (digit >= 0 && digit <= 9) {
      part = (part < 0 ? 0 : part * 10) + digit;
      if (part > 255) return -1;
    } else return -1;
  }
  return dots === 3 && part >= 0 ? value * 256 + part : -1;
}

function joined(ranges: readonly Range[]): Range[] {
  const sorted = [...ranges].sort((a, b) => (a.first < b.first ? -1 : a.first > b.first ? 1 : 0));
  const kept: Range[] = [];
  for (const range of sorted) {
    const before = kept.at(-1);
    if (before && range.first <= before.last + 1n)
      kept[kept.length - 1] = { first: before.first, last: range.last > before.last ? range.last : before.last };
    else kept.push(range);
  }
  return kept;
}

/** Sorted ranges that do not touch, in flat arrays: found by halving, stored as they stand in memory. */
export class AddressSet {
  private constructor(
    /** First and last in turn. */
    private readonly four: Uint32Array,
    /** Upper and lower half of the first, then of the last. */
    private readonly six: BigUint64Array,
  ) {}

  static of(four: readonly Range[], six: readonly Range[]): AddressSet {
    return new AddressSet(
      Uint32Array.from(joined(four).flatMap(({ first, last }) => [Number(first), Number(last)])),
      BigUint64Array.from(
        joined(six).flatMap(({ first, last }) => [first >> 64n, first & LOW, last >> 64n, last & LOW]),
      ),
    );
  }
  /** What `stored` gave. */
  static read({ four, six }: { four: Uint8Array; six: Uint8Array }): AddressSet {
    const own = (bytes: Uint8Array): ArrayBuffer => new Uint8Array(bytes).buffer;
    return new AddressSet(new Uint32Array(own(four)), new BigUint64Array(own(six)));
  }
  stored(): { four: Buffer; six: Buffer } {
    return { four: Buffer.from(this.four.buffer), six: Buffer.from(this.six.buffer) };
  }

  has(address: string): boolean {
    const value = ipv4(address);
    if (value >= 0) return this.hasFour(value);
    if (this.six.length === 0 || !ipaddr.IPv6.isValid(address)) return false;
    return this.hasSix(numberOf(ipaddr.IPv6.parse(address).toByteArray()));
  }

  /**
   * Whether any address of the network that a cut address stands for (/24, /48) is in the set.
   * @param address as it was kept: "192.0.2.0", "2001:db8:7::"
   */
  touches(address: string): boolean {
    const value = ipv4(address);
    if (value >= 0) {
      const from = Math.floor(value / 256) * 256;
      const at = this.place(from);
      return at < this.four.length / 2 && (this.four[2 * at] ?? 0) <= from + 255;
    }
    if (!ipaddr.IPv6.isValid(address)) return false;
    const first = (numberOf(ipaddr.IPv6.parse(address).toByteArray()) >> 80n) << 80n;
    const last = first + (1n << 80n) - 1n;
    for (let i = 0; i < this.six.length; i += 4) if (this.at(i) <= last && this.at(i + 2) >= first) return true;
    return false;
  }

  /** The first range that ends at the value or after it. */
  private place(value: number): number {
    let [low, high] = [0, this.four.length / 2];
    while (low < high) {
      const middle = (low + high) >>> 1;
      if (value > (this.four[2 * middle + 1] ?? 0)) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  private at(i: number): bigint {
    return ((this.six[i] ?? 0n) << 64n) | (this.six[i + 1] ?? 0n);
  }

  private hasFour(value: number): boolean {
    const at = this.place(value);
    return at < this.four.length / 2 && value >= (this.four[2 * at] ?? 0);
  }

  private hasSix(value: bigint): boolean {
    const { six } = this;
    let [low, high] = [0, six.length / 4];
    while (low < high) {
      const middle = (low + high) >>> 1;
      if (value > this.at(4 * middle + 2)) low = middle + 1;
      else high = middle;
    }
    return low < six.length / 4 && value >= this.at(4 * low);
  }
}

const MOST_PROBLEMS = 20;

/**
 * Reads a list of addresses: one address or CIDR range (RFC 4632, RFC 4291) a line; what follows it, and lines that
 * begin with "#", are remarks.
 */
export function readRanges(text: string): ReadRanges {
  const four: Range[] = [];
  const six: Range[] = [];
  const problems: { line: number; reason: string }[] = [];
  for (const [i, whole] of text
    .replace(/^\uFEFF/, '')
    .split(/\r?\n/)
    .entries()) {
    const entry =
      whole
        .trim()
        .split(/[\s,;#"]+/, 2)
        .find((each) => each !== '') ?? '';
    if (entry === '' || whole.trim().startsWith('#')) continue;
    const range = readRange(entry);
    if (range) (range.bits === 32 ? four : six).push(range);
    else if (problems.length < MOST_PROBLEMS)
      problems.push({ line: i + 1, reason: `"${entry.slice(0, 60)}" is not an address or range like 192.0.2.0/24.` });
  }
  return { set: AddressSet.of(four, six), count: four.length + six.length, problems };
}

function readRange(entry: string): (Range & { bits: 32 | 128 }) | undefined {
  const [address = '', prefix, ...more] = entry.split('/');
  const isFour = ipv4(address) >= 0;
  if (more.length > 0 || (!isFour && !ipaddr.IPv6.isValid(address)) || address.includes('%')) return undefined;
  const bits = isFour ? 32 : 128;
  const length = prefix === undefined ? bits : /^\d{1,3}$/.test(prefix) ? Number(prefix) : bits + 1;
  if (length > bits) return undefined;
  const value = isFour ? BigInt(ipv4(address)) : numberOf(ipaddr.IPv6.parse(address).toByteArray());
  const rest = BigInt(bits - length);
  const first = (value >> rest) << rest;
  return { bits, first, last: first + (1n << rest) - 1n };
}
