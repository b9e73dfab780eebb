import { streamed } from '$lib/server/streamed.ts';
import type { RequestHandler } from './$types';

/** A scan over a posted project; see `streamed`. */
export const POST: RequestHandler = ({ request, getClientAddress }) =>
  streamed(request, getClientAddress(), 'scan', 'Ask for fewer points.');
