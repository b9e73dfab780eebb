import type { Refusal } from './refusal.ts';

export interface GateLimits {
  /** Most requests at once, and most of them from one address. */
  readonly overall: number;
  readonly each: number;
  /** What is counted, for the refusal: “requests”, “computations”. */
  readonly what: string;
}

/** From how long on one that is inside gives its place up to a newcomer when all places are taken, ms. */
const ITS_TIME = 2000;

/** One that is inside, and can be asked to give its place up. */
interface Guest {
  readonly since: number;
  readonly makeRoom: () => void;
}

/** Lets a limited number of requests in at once; the others are told to come again. */
export class Gate {
  readonly #limits: GateLimits;
  readonly #inside = new Map<string, number>();
  /** Those who may be asked to leave, the eldest first. */
  readonly #guests = new Set<Guest>();
  #count = 0;

  readonly #clock: () => number;

  /** @param clock - ms */
  constructor(limits: GateLimits, clock: () => number = () => performance.now()) {
    this.#limits = limits;
    this.#clock = clock;
  }

  /**
   * Lets an address in, or says why not now. Whoever was let in calls `leave`, once.
   *
   * @param makeRoom - called once when all places are taken and this one has had its time: it is to leave soon
   */
  enter(address: string, makeRoom?: () => void): { readonly leave: () => void } | { readonly refusal: Refusal } {
    const { overall, each, what } = this.#limits;
    const own = this.#inside.get(address) ?? 0;
    if (own >= each)
      return refusal(429, `${own} ${what} from your address are under way, which is the limit. Try again soon.`);
    if (this.#count >= overall && !this.#askEldest())
      return refusal(503, `The server is busy with ${this.#count} ${what}. Try again soon.`);
    this.#count++;
    this.#inside.set(address, own + 1);
    const guest = makeRoom && { since: this.#clock(), makeRoom };
    if (guest) this.#guests.add(guest);
    return {
      leave: () => {
        if (guest) this.#guests.delete(guest);
        this.#leave(address);
      },
    };
  }

  /** Asks the eldest guest to leave, when it has had its time; whether there is one. */
  #askEldest(): boolean {
    const [eldest] = this.#guests;
    if (!eldest || this.#clock() - eldest.since < ITS_TIME) return false;
    this.#guests.delete(eldest);
    eldest.makeRoom();
    return true;
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
