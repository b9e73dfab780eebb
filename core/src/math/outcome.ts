/** A value, or the reason in plain words why there is none. Physical failures travel this way; only programming mistakes throw. */
export type Outcome<T> = Success<T> | Failure;

export interface Success<T> {
  readonly ok: true;
  readonly value: T;
}

export interface Failure {
  readonly ok: false;
  /** One sentence for the user: what failed. */
  readonly reason: string;
  /** The id of the surface or object it belongs to, where there is one. */
  readonly where?: string;
}

export function success<T>(value: T): Success<T> {
  return { ok: true, value };
}

export function failure(reason: string, where?: string): Failure {
  return where === undefined ? { ok: false, reason } : { ok: false, reason, where };
}
