import type { ScanPart } from '@ulvex/core';
import { admit, computePool, inTime, LIMITS } from '$lib/server/compute.ts';
import { LineStream } from '$lib/server/line-stream.ts';
import { refused } from '$lib/server/refusal.ts';
import type { RequestHandler } from './$types';

/**
 * A scan over a posted project, as lines of JSON while it runs: `{"done", "of", "rows"}` and at last `{"finished", "points"}` or
 * `{"error"}`. What is wrong from the start is refused as a whole. It ends when the other side hangs up, and waits
 * while the other side takes nothing in.
 * docs/server.md.
 */
export const POST: RequestHandler = ({ request, getClientAddress }) => {
  const address = getClientAddress();
  return admit(address, request.body, (text) => {
    let lines: LineStream | null = null;
    let begin: (answer: Response) => void = () => {};
    const answer = new Promise<Response>((resolve) => (begin = resolve));
    const gone = new AbortController();
    request.signal.addEventListener('abort', () => gone.abort());
    const onPart = (part: ScanPart) => {
      if (!lines) begin((lines = new LineStream(() => gone.abort(), job.hold, LIMITS.stallMs)).response);
      lines.write(part);
    };
    const job = computePool().run('scan', text, onPart, address);
    const result = inTime(job, LIMITS.scanMs, 'Ask for fewer points.', gone.signal);
    void result.then((found) => {
      if (lines) lines.end(found.ok ? { finished: true, points: found.value.points } : { error: found.refusal.reason });
      else begin(refused(found.ok ? { status: 422, reason: 'The scan has no points.' } : found.refusal));
    });
    return { answer, ended: result };
  });
};
