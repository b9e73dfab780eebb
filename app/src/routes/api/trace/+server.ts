import { streamed } from '$lib/server/streamed.ts';
import type { RequestHandler } from './$types';

/** A run through a scene of a posted project; see `streamed`. */
export const POST: RequestHandler = ({ request, getClientAddress }) =>
  streamed(request, getClientAddress(), 'trace', 'Ask for fewer rays.');
