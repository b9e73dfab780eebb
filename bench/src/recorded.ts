/** What a page with recorded answers says of itself. */
export interface Recording {
  /** Whether questions that were asked before are answered from the record, without any worker. */
  replays: boolean;
  /** Questions answered from the record, and those that were not in it and went to a worker. */
  hits: number;
  misses: number;
}

/**
 * Runs in the page before any of its scripts: records what workers answer to evaluations, and answers from that record on request. A page
 * that redraws from recorded answers computes nothing: it is the baseline that the time of a frame is compared with.
 */
export function recordAnswers(): void {
  interface Message {
    readonly type: string;
    readonly id: number;
    readonly job?: string;
    readonly input?: unknown;
  }
  const record = new Map<string, unknown[]>();
  const recording: Recording = { replays: false, hits: 0, misses: 0 };
  (window as unknown as { recording: Recording }).recording = recording;

  /** The lenses and what is asked of them. Everything else of the project stays as it is while a handle is dragged. */
  function keyOf({ job, input }: Message): string | null {
    if (job !== 'evaluate') return null;
    const { project, queries } = input as { project: { lenses: unknown }; queries: unknown };
    return JSON.stringify([project.lenses, queries]);
  }

  window.Worker = class extends Worker {
    readonly #asked = new Map<number, unknown[]>();

    constructor(url: string | URL, options?: WorkerOptions) {
      super(url, options);
      this.addEventListener('message', ({ data }: MessageEvent<Message>) => this.#asked.get(data.id)?.push(data));
    }

    override postMessage(message: Message, ...rest: never[]): void {
      const key = message.type === 'start' ? keyOf(message) : null;
      if (key === null) return super.postMessage(message, ...rest);
      const known = recording.replays ? record.get(key) : undefined;
      if (!known) {
        recording.misses++;
        const answers: unknown[] = [];
        record.set(key, answers);
        this.#asked.set(message.id, answers);
        return super.postMessage(message, ...rest);
      }
      recording.hits++;
      const channel = new MessageChannel();
      channel.port1.onmessage = () => {
        for (const answer of known)
          this.dispatchEvent(new MessageEvent('message', { data: { ...(answer as Message), id: message.id } }));
      };
      channel.port2.postMessage(null);
    }
  };
}
