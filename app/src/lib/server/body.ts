import type { Refusal } from './refusal.ts';

export interface BodyLimits {
  readonly bytes: number;
  /** From the first wait to the last byte, ms. */
  readonly within: number;
  /** Resolves when the place is wanted for others: one that is not done by then is too slow. */
  readonly wanted?: Promise<unknown>;
}

/**
 * Reads a body as UTF-8 text, at most so large and so slow.
 */
export async function readText(
  body: ReadableStream<Uint8Array> | null,
  { bytes, within, wanted }: BodyLimits,
): Promise<{ readonly text: string } | { readonly refusal: Refusal }> {
  if (!body) return { refusal: { status: 422, reason: 'The request has no body.' } };
  const reader = body.getReader();
  const chunks: Uint8Array[] = [];
  let size = 0;
  let late = (): void => {};
  const tooLate = new Promise<'late'>((resolve) => (late = () => resolve('late')));
  const timer = setTimeout(() => late(), within);
  void wanted?.then(() => late());
  const began = performance.now();
  try {
    for (;;) {
      const next = await Promise.race([reader.read(), tooLate]);
      if (next === 'late') {
        void letGo(reader);
        const seconds = Math.round((performance.now() - began) / 100) / 10;
        const reason = `Only ${size} bytes came within ${seconds} s: the connection is too slow. Nothing was computed.`;
        return { refusal: { status: 503, reason, retryAfter: 5 } };
      }
      if (next.done) break;
      size += next.value.byteLength;
      if (size > bytes) {
        void letGo(reader);
        const limit = Math.round((bytes / 1024 / 1024) * 10) / 10;
        return { refusal: { status: 413, reason: `The body is larger than ${limit} MB.` } };
      }
      chunks.push(next.value);
    }
  } finally {
    clearTimeout(timer);
  }
  return { text: new TextDecoder().decode(Buffer.concat(chunks)) };
}

const LINGER = 2000;

/** Goes on taking in what is sent for a moment and throws it away: cut off at once, the other side would not read why. */
async function letGo(reader: ReadableStreamDefaultReader<Uint8Array>): Promise<void> {
  let over = false;
  const timer = setTimeout(() => {
    over = true;
    reader.cancel().catch(() => {}); // already closed
  }, LINGER);
  try {
    while (!over && !(await reader.read()).done);
  } catch {
    // the other side hung up
  }
  clearTimeout(timer);
}
