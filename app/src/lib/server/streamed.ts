import type { Jobs } from '@ulvex/core';
import { admit, computePool, inTime, LIMITS } from './compute.ts';
import { LineStream } from './line-stream.ts';
import { refused } from './refusal.ts';

/** Jobs that report parts while they run, of the text of a request. */
export type StreamedJob = 'scan' | 'lot' | 'trace';

/**
 * Answers a request by a job, as lines of JSON while it runs: its parts, and at last its result with `"finished": true`, or `{"error"}`. What
 * is wrong from the start is refused as a whole. It ends when the other side hangs up, and waits while the other side takes nothing in.
 * docs/server.md.
 *
 * @param advice - what to do about one that takes too long
 */
export function streamed(request: Request, address: string, name: StreamedJob, advice: string): Promise<Response> {
  return admit(address, request.body, (text) => {
    let lines: LineStream | null = null;
    let begin: (answer: Response) => void = () => {};
    const answer = new Promise<Response>((resolve) => (begin = resolve));
    const gone = new AbortController();
    request.signal.addEventListener('abort', () => gone.abort());
    const stream = () => {
      if (!lines) begin((lines = new LineStream(() => gone.abort(), job.hold, LIMITS.stallMs)).response);
      return lines;
    };
    const job = computePool().run<StreamedJob>(name, text, (part) => stream().write(part), address);
    const result = inTime<Result>(job, LIMITS.scanMs, advice, gone.signal);
    void result.then((found) => {
      if (found.ok) stream().end({ finished: true, ...found.value });
      else if (lines) lines.end({ error: found.refusal.reason });
      else begin(refused(found.refusal));
    });
    return { answer, ended: result };
  });
}

type Result = Extract<Awaited<ReturnType<Jobs[StreamedJob]>>, { ok: true }>['value'];
