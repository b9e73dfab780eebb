/**
 * Charts are drawn when the page has nothing more urgent to do, one a turn: while something is dragged the drawing and the figures
 * come first, and a chart whose picture is out of date before its turn is drawn once, as it is by then.
 */
export class PaintQueue {
  readonly #waiting = new Map<object, { readonly draw: () => void; readonly due: number }>();
  readonly #whenIdle: (run: () => void, due: number) => void;
  #asked = false;

  /** @param whenIdle - calls back once, later, when there is time, and at the latest when the next drawing is due (`performance.now()`) */
  constructor(whenIdle: (run: () => void, due: number) => void) {
    this.#whenIdle = whenIdle;
  }

  /**
   * Draws for an owner as soon as there is time; a drawing of the same owner that still waits is left out.
   *
   * @param due - when it is drawn even though there is no time
   */
  later(owner: object, draw: () => void, due: number): void {
    this.#waiting.set(owner, { draw, due });
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

  /** What is due first; of those due together, what was asked for first. */
  #next(): readonly [owner: object, due: number] | null {
    let next: readonly [object, number] | null = null;
    for (const [owner, { due }] of this.#waiting) if (!next || due < next[1]) next = [owner, due];
    return next;
  }

  #ask(): void {
    const first = this.#next();
    if (this.#asked || !first) return;
    this.#asked = true;
    this.#whenIdle(() => {
      this.#asked = false;
      const next = this.#next();
      if (!next) return;
      try {
        this.now(next[0]);
      } finally {
        this.#ask();
      }
    }, first[1]);
  }
}

/** How long a chart may wait for what is more urgent, ms: those that wait together do so together, not one after another. */
const LONGEST_WAIT = 80;
/** How old a revision may become before its charts wait no longer, ms: a quarter of a second is seen as lagging behind. */
const OLDEST = 150;

/** What charts ask of the answers that come before them, see `LiveAnswers`; set by the desk. */
export const urgent = {
  untilFree: () => 0,
  shownAt: (_revision: number) => performance.now(),
};

/** When a chart of a revision must be drawn at the latest. */
export function dueOf(revision: number): number {
  return Math.min(performance.now() + LONGEST_WAIT, urgent.shownAt(revision) + OLDEST);
}

/** The queue of this page. */
export const paintQueue = new PaintQueue((run, due) => {
  const look = () => {
    const [wait, left] = [urgent.untilFree(), due - performance.now()];
    if (wait > 0 && left > 0) setTimeout(look, Math.min(wait, left));
    else run();
  };
  setTimeout(look);
});
