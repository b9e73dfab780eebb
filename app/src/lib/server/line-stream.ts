/** Bytes that may wait for a slow reader. */
const WAITING = 256 * 1024;

/** An answer that grows by lines of JSON. */
export class LineStream {
  readonly response: Response;
  #controller!: ReadableStreamDefaultController<Uint8Array>;
  #open = true;

  readonly #hold: (on: boolean) => void;
  #held = false;

  /**
   * @param onHangUp - called when the other side no longer listens
   * @param hold - called with true when it takes in less than is written, with false when it has caught up
   */
  constructor(onHangUp: () => void, hold: (on: boolean) => void = () => {}) {
    this.#hold = hold;
    const stream = new ReadableStream<Uint8Array>(
      {
        start: (controller) => void (this.#controller = controller),
        pull: () => this.#holdBack(false),
        cancel: () => {
          this.#open = false;
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
    if (on === this.#held) return;
    this.#held = on;
    this.#hold(on);
  }

  /** The last line. */
  end(line: object): void {
    this.write(line);
    if (this.#open) this.#controller.close();
    this.#open = false;
  }
}
