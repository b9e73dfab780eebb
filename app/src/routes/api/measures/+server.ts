import { answered } from '$lib/server/answered.ts';
import type { RequestHandler } from './$types';

/** Measures of a posted project; docs/server.md. */
export const POST: RequestHandler = ({ request, getClientAddress }) =>
  answered(request, getClientAddress(), 'measures', (measures) => ({ measures }));
