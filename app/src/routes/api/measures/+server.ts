import { json } from '@sveltejs/kit';
import { admit, computePool, inTime, LIMITS } from '$lib/server/compute.ts';
import { refused } from '$lib/server/refusal.ts';
import type { RequestHandler } from './$types';

/** Measures of a posted project; docs/server.md. */
export const POST: RequestHandler = ({ request, getClientAddress }) =>
  admit(getClientAddress(), request.body, (text) => {
    const job = computePool().run('measures', text);
    request.signal.addEventListener('abort', () => job.cancel());
    const result = inTime(job, LIMITS.measuresMs, 'Ask for less at once.');
    const answer = result.then((found) =>
      found.ok ? json({ measures: found.value }) : refused({ status: 422, reason: found.reason }),
    );
    return { answer, ended: result };
  });
