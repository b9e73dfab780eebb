import type { Refusal } from './refusal.ts';

export interface GateLimits {
  /** Most requests at once, and most of them from one address. */
  readonly overall: number;
  readonly each: number;
  /** What is counted, for the refusal: “requests”, “computations”. */
  readonly what: string;
}

/** Lets a limited number of requests in at once; the others are told to come again. */
export class Gate {
  readonly #limits: GateLimits;
  readonly #inside = new Map<string, number>();
  #count = 0;

  constructor(limits: GateLimits) {
    this.#limits = limits;
  }

  /** Lets an address in, or says why not now. Whoever was let in calls `leave`, once. */
  enter(address: string): { readonly leave: () => void } | { readonly refusal: Refusal } {
    const { overall, each, what } = this.#limits;
    const own = this.#inside.get(address) ?? 0;
    if (own >= each)
      return refusal(
        429,
        `${own} ${what} from your address are under way, which is the limit. Try again soon.`,
      );
    if (this.#count >= overall)
      return refusal(503, `The server is busy with ${this.#count} ${what}. Try again soon.`);
    this.#count++;
    this.#inside.set(address, own + 1);
    return { leave: () => this.#leave(address) };
  }

  #leave(address: string): void {
    this.#count--;
    const left = (this.#inside.get(address) ?? 1) - 1;
    if (left > 0) this.#inside.set(address, left);
    else this.#inside.delete(address);
  }
}

function refusal(status: 429 | 503, reason: string): { refusal: Refusal } {
  return { refusal: { status, reason, retryAfter: 1 } };
}
