/** A mail as it comes in, in one piece. */
import { type Bytes } from '@under-lock/core/bytes';

const LEAST = 64 * 1024;

/**
 * Octets one after another. What was announced is set aside at once, so that a large mail lies in memory once and is not
 * copied; a program that announces nothing, or too little, costs a copy each time it doubles.
 */
export class Collected {
  private held: Bytes;
  private size = 0;

  /** @param announced Octets, as the program says; never more than `most`. */
  constructor(
    announced: number,
    private readonly most: number,
  ) {
    this.held = new Uint8Array(Math.min(Math.max(announced, LEAST), most));
  }

  /** @throws RangeError beyond `most` */
  add(chunk: Uint8Array): void {
    const size = this.size + chunk.length;
    if (size > this.most) throw new RangeError('More than fits');
    if (size > this.held.length) {
      const larger = new Uint8Array(Math.min(Math.max(size, this.held.length * 2), this.most));
      larger.set(this.held.subarray(0, this.size));
      this.held = larger;
    }
    this.held.set(chunk, this.size);
    this.size = size;
  }

  /** Gives back what was set aside. */
  drop(): void {
    this.held = new Uint8Array(0);
    this.size = 0;
  }

  get bytes(): Bytes {
    return this.held.subarray(0, this.size);
  }
}
