/** An answer that grows by lines of JSON. */
export class LineStream {
  readonly response: Response;
  #controller!: ReadableStreamDefaultController<Uint8Array>;
  #open = true;

  /** @param onHangUp - called when the other side no longer listens */
  constructor(onHangUp: () => void) {
    const stream = new ReadableStream<Uint8Array>({
      start: (controller) => void (this.#controller = controller),
      cancel: () => {
        this.#open = false;
        onHangUp();
      },
    });
    this.response = new Response(stream, { headers: { 'content-type': 'application/x-ndjson' } });
  }

  write(line: object): void {
    if (this.#open) this.#controller.enqueue(new TextEncoder().encode(`${JSON.stringify(line)}\n`));
  }

  /** The last line. */
  end(line: object): void {
    this.write(line);
    if (this.#open) this.#controller.close();
    this.#open = false;
  }
}
