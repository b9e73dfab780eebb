/** Bytes that may wait for a slow reader. */
const WAITING = 256 * 1024;

/** The longest time that a timer can be set to, ms. */
const LONGEST = 2 ** 31 - 1;

/** An answer that grows by lines of JSON. */
export class LineStream {
  readonly response: Response;
  #controller!: ReadableStreamDefaultController<Uint8Array>;
  #open = true;

  readonly #hold: (on: boolean) => void;
  readonly #onHangUp: () => void;
  readonly #stallMs: number;
  /** Ends the answer when the other side takes nothing in for too long; null while it does. */
  #stalling: ReturnType<typeof setTimeout> | null = null;

  /**
   * @param onHangUp - called when the other side no longer listens, or takes nothing in for too long
   * @param hold - called with true when it takes in less than is written, with false when it has caught up
   * @param stallMs - how long it may take nothing in
   */
  constructor(onHangUp: () => void, hold: (on: boolean) => void = () => {}, stallMs = Infinity) {
    this.#hold = hold;
    this.#onHangUp = onHangUp;
    this.#stallMs = stallMs;
    const stream = new ReadableStream<Uint8Array>(
      {
        start: (controller) => void (this.#controller = controller),
        pull: () => this.#holdBack(false),
        cancel: () => {
          this.#open = false;
          if (this.#stalling !== null) clearTimeout(this.#stalling);
          onHangUp();
        },
      },
      new ByteLengthQueuingStrategy({ highWaterMark: WAITING }),
    );
    this.response = new Response(stream, { headers: { 'content-type': 'application/x-ndjson' } });
  }

  write(line: object): void {
    if (!this.#open) return;
    this.#controller.enqueue(new TextEncoder().encode(`${JSON.stringify(line)}\n`));
    if ((this.#controller.desiredSize ?? 0) <= 0) this.#holdBack(true);
  }

  #holdBack(on: boolean): void {
    if (on === (this.#stalling !== null)) return;
    if (this.#stalling !== null) clearTimeout(this.#stalling);
    this.#stalling = on ? setTimeout(() => this.#giveUp(), Math.min(this.#stallMs, LONGEST)) : null;
    this.#hold(on);
  }

  #giveUp(): void {
    if (!this.#open) return;
    this.#open = false;
    this.#controller.error(new Error('the other side takes nothing in'));
    this.#onHangUp();
  }

  /** The last line. */
  end(line: object): void {
    this.write(line);
    if (this.#open) this.#controller.close();
    this.#open = false;
    if (this.#stalling !== null) clearTimeout(this.#stalling);
  }
}
