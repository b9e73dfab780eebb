import { json } from '@sveltejs/kit';
import { admit, computePool, inTime, LIMITS } from '$lib/server/compute.ts';
import { refused } from '$lib/server/refusal.ts';
import type { RequestHandler } from './$types';

/** Measures of a posted project; docs/server.md. */
export const POST: RequestHandler = ({ request, getClientAddress }) =>
  admit(getClientAddress(), request.body, (text) => {
    const job = computePool().run('measures', text);
    const result = inTime(job, LIMITS.measuresMs, 'Ask for less at once.', request.signal);
    const answer = result.then((found) =>
      found.ok ? json({ measures: found.value }) : refused(found.refusal),
    );
    return { answer, ended: result };
  });
