/**
 * Charts are drawn when the page has nothing more urgent to do, one a turn: while something is dragged the drawing and the figures
 * come first, and a chart whose picture is out of date before its turn is drawn once, as it is by then.
 */
export class PaintQueue {
  readonly #waiting = new Map<object, { readonly draw: () => void; readonly since: number }>();
  readonly #whenIdle: (run: () => void, since: number) => void;
  #asked = false;

  /** @param whenIdle - calls back once, later, when there is time; told since when (`performance.now()`) the next drawing waits */
  constructor(whenIdle: (run: () => void, since: number) => void) {
    this.#whenIdle = whenIdle;
  }

  /** Draws for an owner as soon as there is time; a drawing of the same owner that still waits is left out. */
  later(owner: object, draw: () => void): void {
    this.#waiting.set(owner, { draw, since: performance.now() });
    this.#ask();
  }

  /** Forgets what waits for an owner. */
  forget(owner: object): void {
    this.#waiting.delete(owner);
  }

  /** Draws at once what waits for an owner. */
  now(owner: object): void {
    const next = this.#waiting.get(owner);
    this.#waiting.delete(owner);
    next?.draw();
  }

  #ask(): void {
    const [first] = this.#waiting.values();
    if (this.#asked || !first) return;
    this.#asked = true;
    this.#whenIdle(() => {
      this.#asked = false;
      const next = this.#waiting.keys().next();
      if (next.done) return;
      try {
        this.now(next.value);
      } finally {
        this.#ask();
      }
    }, first.since);
  }
}

/** How long a chart may wait for what is more urgent, ms: those that wait together do so together, not one after another. */
const LONGEST_WAIT = 80;
const AGAIN = 8;
/** From an answer until what is drawn at once is on the screen, ms: a chart drawn meanwhile would hold it up. */
const FRAME = 34;

/** What comes before charts: whether answers that are drawn at once are on their way, and when the last ones came; kept by the desk. */
export const urgent = { waiting: () => false, answeredAt: -Infinity };

/** The queue of this page. */
export const paintQueue = new PaintQueue((run, since) => {
  const untilShown = () => Math.max(0, urgent.answeredAt + FRAME - performance.now());
  const look = () => {
    const wait = untilShown() || (urgent.waiting() ? AGAIN : 0);
    if (wait > 0 && performance.now() - since < LONGEST_WAIT) setTimeout(look, wait);
    else run();
  };
  setTimeout(look, untilShown());
});
