import type { ScanPart } from '@ulvex/core';
import { admit, computePool, inTime, LIMITS } from '$lib/server/compute.ts';
import { LineStream } from '$lib/server/line-stream.ts';
import { refused } from '$lib/server/refusal.ts';
import type { RequestHandler } from './$types';

/**
 * A scan over a posted project, as lines of JSON while it runs: `{"done", "of", "rows"}` and at last `{"finished", "points"}` or
 * `{"error"}`. What is wrong from the start is refused as a whole. It ends when the other side hangs up. docs/server.md.
 */
export const POST: RequestHandler = ({ request, getClientAddress }) =>
  admit(getClientAddress(), request.body, (text) => {
    let lines: LineStream | null = null;
    let begin: (answer: Response) => void = () => {};
    const answer = new Promise<Response>((resolve) => (begin = resolve));
    const job = computePool().run('scan', text, (part: ScanPart) => {
      if (!lines) begin((lines = new LineStream(() => job.cancel())).response);
      lines.write(part);
    });
    request.signal.addEventListener('abort', () => job.cancel());
    const result = inTime(job, LIMITS.scanMs, 'Ask for fewer points.');
    void result.then((found) => {
      if (lines)
        lines.end(found.ok ? { finished: true, points: found.value.points } : { error: found.reason });
      else begin(refused({ status: 422, reason: found.ok ? 'The scan has no points.' : found.reason }));
    });
    return { answer, ended: result };
  });
