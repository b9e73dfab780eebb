/** Random numbers of a seed: mulberry32. */
export class Random {
  #state: number;

  constructor(seed: number) {
    this.#state = seed | 0;
  }

  /** From 0 up to 1. */
  next(): number {
    this.#state = (this.#state + 0x6d2b79f5) | 0;
    let t = Math.imul(this.#state ^ (this.#state >>> 15), 1 | this.#state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  }

  /** A whole number from 0 up to one that is left out. */
  below(most: number): number {
    return Math.floor(this.next() * most);
  }

  of<T>(list: readonly T[]): T {
    return list[this.below(list.length)];
  }
}
