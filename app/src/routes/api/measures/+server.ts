import { json } from '@sveltejs/kit';
import { admit, computePool, inTime, LIMITS } from '$lib/server/compute.ts';
import { refused } from '$lib/server/refusal.ts';
import type { RequestHandler } from './$types';

/** Measures of a posted project; docs/server.md. */
export const POST: RequestHandler = ({ request, getClientAddress }) => {
  const address = getClientAddress();
  return admit(address, request.body, (text) => {
    const job = computePool().run('measures', text, undefined, address);
    const result = inTime(job, LIMITS.measuresMs, 'Ask for less at once.', request.signal);
    const answer = result.then((found) => (found.ok ? json({ measures: found.value }) : refused(found.refusal)));
    return { answer, ended: result };
  });
};
