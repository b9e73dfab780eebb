/** Why the server does not do what it was asked, in words, with the status of the answer. */
export interface Refusal {
  /** 413 too large, 422 wrong or too long to compute, 429 too many from one place, 503 too many altogether or too slow. */
  readonly status: 413 | 422 | 429 | 503;
  readonly reason: string;
  /** Seconds after which it is worth another try. */
  readonly retryAfter?: number;
}

/** The answer that tells a refusal. */
export function refused({ status, reason, retryAfter }: Refusal): Response {
  const headers = {
    'content-type': 'application/json',
    ...(retryAfter && { 'retry-after': String(retryAfter) }),
  };
  return new Response(JSON.stringify({ error: reason }), { status, headers });
}
