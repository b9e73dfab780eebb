import WebSocket from 'ws';

interface Reply {
  readonly id?: number;
  readonly method?: string;
  readonly params?: unknown;
  readonly result?: unknown;
  readonly error?: { readonly message: string };
}

/** A connection to one page of a browser by its developer protocol, for what the driver does not offer: input and traces. */
export class Devtools {
  readonly #socket: WebSocket;
  readonly #waiting = new Map<number, { done: (result: unknown) => void; failed: (error: Error) => void }>();
  readonly #listeners = new Map<string, (params: never) => void>();
  #next = 1;

  private constructor(socket: WebSocket) {
    this.#socket = socket;
    socket.on('message', (data: Buffer) => this.#receive(JSON.parse(data.toString()) as Reply));
  }

  /** Connects to the first page of the browser that listens at an address such as `localhost:9222`. */
  static async connect(address: string): Promise<Devtools> {
    const targets = (await (await fetch(`http://${address}/json/list`)).json()) as {
      type: string;
      webSocketDebuggerUrl: string;
    }[];
    const page = targets.find(({ type }) => type === 'page');
    if (!page) throw new Error(`the browser at ${address} shows no page`);
    const socket = new WebSocket(page.webSocketDebuggerUrl, { perMessageDeflate: false });
    await new Promise<void>((open, failed) => {
      socket.once('open', open);
      socket.once('error', failed);
    });
    return new Devtools(socket);
  }

  send<Result = unknown>(method: string, params: object = {}): Promise<Result> {
    const id = this.#next++;
    return new Promise((done, failed) => {
      this.#waiting.set(id, { done: done as (result: unknown) => void, failed });
      this.#socket.send(JSON.stringify({ id, method, params }));
    });
  }

  on<Params>(method: string, listener: (params: Params) => void): void {
    this.#listeners.set(method, listener);
  }

  close(): void {
    this.#socket.close();
  }

  #receive({ id, method, params, result, error }: Reply): void {
    if (id === undefined) {
      this.#listeners.get(method ?? '')?.(params as never);
      return;
    }
    const waiting = this.#waiting.get(id);
    this.#waiting.delete(id);
    if (error) waiting?.failed(new Error(error.message));
    else waiting?.done(result);
  }
}
