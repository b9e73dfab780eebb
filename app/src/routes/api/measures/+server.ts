import { answered } from '$lib/server/answered.ts';
import { LIMITS } from '$lib/server/compute.ts';
import type { RequestHandler } from './$types';

/** Measures of a posted project; docs/server.md. */
export const POST: RequestHandler = ({ request, getClientAddress }) =>
  answered(request, getClientAddress(), 'measures', LIMITS.measuresMs, (measures) => ({ measures }));
