/** How long charts are left alone before they are begun anew, ms: processors are shared with what is drawn at once. */
const SPACING = 60;

/**
 * How long behind an answer charts that were begun a moment before look out for a newer one, ms: about as long as a
 * calm hand takes from move to move.
 */
const LOOKOUT = 105;

/** From an answer until what is drawn at once is on the screen, ms. */
const FRAME = 20;

/** How long charts leave an answer aside for newer ones, ms; behind that they begin whatever else is computed. */
const PATIENCE = 100;

/** When what may wait is begun, so that it takes no processor from what is drawn at once. Times as `performance.now()` tells them. */
export class Pacing {
  #began = -Infinity;
  /** When what is drawn at once was answered last, and when first since charts were begun. */
  #answered = -Infinity;
  #leftAside = Infinity;

  /** What is drawn at once has been answered. */
  answered(now: number): void {
    this.#answered = now;
    this.#leftAside = Math.min(this.#leftAside, now);
  }

  /** Charts are begun. */
  began(now: number): void {
    this.#began = now;
    this.#leftAside = Infinity;
  }

  /**
   * How long charts wait before they are begun, ms: until what is drawn at once is on the screen, so that they show a revision that is new, and
   * not too often; where nothing newer comes, a little longer. They do not wait for ever where a hand leaves no pause.
   *
   * @param busy - whether what is drawn at once is being answered
   * @returns Infinity while that answer is waited for
   */
  chartsWait(now: number, busy: boolean): number {
    if (now - this.#leftAside >= PATIENCE) return 0;
    if (busy) return Infinity;
    const behind = this.#answered + FRAME;
    const spaced = this.#began + SPACING;
    return Math.max(0, (behind >= spaced ? behind : Math.max(spaced, this.#answered + LOOKOUT)) - now);
  }

  /** How long it is until what was answered last is on the screen, ms. */
  untilShown(now: number): number {
    return Math.max(0, this.#answered + FRAME - now);
  }
}
