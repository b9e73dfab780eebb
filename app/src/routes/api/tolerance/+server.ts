import { streamed } from '$lib/server/streamed.ts';
import type { RequestHandler } from './$types';

/** A lot made within the tolerances of a posted project; see `streamed`. */
export const POST: RequestHandler = ({ request, getClientAddress }) =>
  streamed(request, getClientAddress(), 'lot', 'Ask for fewer trials.');
