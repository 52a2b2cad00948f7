import { randomFillSync } from 'node:crypto';
import { makeUlid } from '@/core/clicks/ulid';

const BLOCK = 8192;

/**
 * IDs from random bytes that are drawn in blocks: one call into the system serves hundreds of them.
 * The source can be another one where the same run must give the same IDs.
 */
export class IdSource {
  private readonly block = new Uint8Array(BLOCK);
  private used = BLOCK;

  constructor(private readonly fill: (block: Uint8Array) => void = (block) => void randomFillSync(block)) {}

  private take(count: number): number {
    if (this.used + count > BLOCK) {
      this.fill(this.block);
      this.used = 0;
    }
    this.used += count;
    return this.used - count;
  }

  /** A ULID for a time in milliseconds. */
  ulid(time: number): string {
    return makeUlid(time, this.block, this.take(10));
  }

  /** 128 random bits as 32 hex digits. */
  visitor(): string {
    const at = this.take(16);
    return Buffer.from(this.block.subarray(at, at + 16)).toString('hex');
  }
}
