/** How long charts are left alone before they are begun anew, ms: processors are shared with what is drawn at once. */
const SPACING = 130;

/** How long charts look out for a newer model that they may begin with, ms: longer than between two moves of a hand. */
const LOOKOUT = 140;

/** From an answer until what is drawn at once is on the screen, ms; and how quickly moves follow one another that leave no such time. */
const FRAME = 30;
const RAPID = 60;

/** When what may wait is begun, so that it takes no processor from what is drawn at once. Times as `performance.now()` tells them. */
export class Pacing {
  #began = -Infinity;
  /** When what is drawn at once was answered, the last time but one and the last. */
  #answered: readonly [before: number, last: number] = [-Infinity, -Infinity];

  /** What is drawn at once has been answered. */
  answered(now: number): void {
    this.#answered = [this.#answered[1], now];
  }

  /** Charts are begun. */
  began(now: number): void {
    this.#began = now;
  }

  /**
   * How long charts wait before they are begun, ms: until what is drawn at once is on the screen, so that they show a revision that is new, and
   * not too often; where nothing newer comes, a little longer. Where moves follow one another at once, no frame is waited for.
   */
  chartsWait(now: number): number {
    const [before, last] = this.#answered;
    const behind = last - before < RAPID ? last : last + FRAME;
    const spaced = this.#began + SPACING;
    return Math.max(0, (behind >= spaced ? behind : Math.max(spaced, last + LOOKOUT)) - now);
  }

  /** How long it is until what was answered last is on the screen, ms. */
  untilShown(now: number): number {
    return Math.max(0, this.#answered[1] + FRAME - now);
  }
}
