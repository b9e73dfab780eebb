import { json } from '@sveltejs/kit';
import type { Jobs } from '@ulvex/core';
import { admit, computePool, inTime } from './compute.ts';
import { refused } from './refusal.ts';

/** Jobs that answer the text of a request at once. */
export type AnsweringJob = 'measures' | 'check';

/**
 * Answers a request by the result of a job, or by the refusal that tells why there is none. docs/server.md.
 *
 * @param within - ms that it may take
 * @param body - makes the answer of the result
 */
export function answered<K extends AnsweringJob>(
  request: Request,
  address: string,
  name: K,
  within: number,
  body: (result: ResultOf<K>) => unknown,
): Promise<Response> {
  return admit(address, request.body, (text) => {
    const job = computePool().run<AnsweringJob>(name, text, undefined, address);
    const result = inTime<ResultOf<AnsweringJob>>(job, within, 'Ask for less at once.', request.signal);
    const answer = result.then((found) => (found.ok ? json(body(found.value as ResultOf<K>)) : refused(found.refusal)));
    return { answer, ended: result };
  });
}

type ResultOf<K extends AnsweringJob> = Extract<Awaited<ReturnType<Jobs[K]>>, { ok: true }>['value'];
