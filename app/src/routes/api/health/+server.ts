import { json } from '@sveltejs/kit';

/** Whether the server answers. */
export function GET() {
  return json({ ok: true });
}
