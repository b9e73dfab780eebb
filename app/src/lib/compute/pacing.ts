/** From an answer until what is drawn at once is on the screen, ms; and how quickly moves follow one another that leave no such time. */
const FRAME = 30;
const RAPID = 60;

/**
 * How long charts are left alone before they are begun anew, and how long they then look out for a newer model that they may begin with, ms:
 * they follow every move of a calm hand; where a hand leaves no pause, processors are shared with what is drawn at once.
 */
const CALM_PACE = { spacing: 60, lookout: 105 };
const RAPID_PACE = { spacing: 130, lookout: 140 };

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

  /** Whether moves follow one another so quickly that there is no pause between their answers. */
  get rapid(): boolean {
    return this.#answered[1] - this.#answered[0] < RAPID;
  }

  /**
   * How long charts wait before they are begun, ms: until what is drawn at once is on the screen, so that they show a revision that is new, and
   * not too often; where nothing newer comes, a little longer. Where moves follow one another at once, no frame is waited for.
   */
  chartsWait(now: number): number {
    const last = this.#answered[1];
    const { spacing, lookout } = this.rapid ? RAPID_PACE : CALM_PACE;
    const behind = this.rapid ? last : last + FRAME;
    const spaced = this.#began + spacing;
    return Math.max(0, (behind >= spaced ? behind : Math.max(spaced, last + lookout)) - now);
  }

  /** How long it is until what was answered last is on the screen, ms. */
  untilShown(now: number): number {
    return Math.max(0, this.#answered[1] + FRAME - now);
  }
}
