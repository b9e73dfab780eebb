import { answered } from '$lib/server/answered.ts';
import { LIMITS } from '$lib/server/compute.ts';
import type { RequestHandler } from './$types';

/** What is wrong with a posted project, and how its requirements stand; docs/server.md. */
export const POST: RequestHandler = ({ request, getClientAddress }) =>
  answered(request, getClientAddress(), 'check', LIMITS.scanMs, (found) => found);
