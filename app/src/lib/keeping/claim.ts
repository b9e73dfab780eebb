/** The right of one tab to write one project. */
export interface Claim {
  release(): void;
  /** Whether it keeps other tabs away: where the browser has no locks it does not. */
  readonly exclusive: boolean;
  /** Resolves when another tab has taken over. */
  readonly lost: Promise<void>;
}

/** What of the browser's locks is needed; null where the browser has none (insecure addresses). */
export type Locks = Pick<LockManager, 'request'> | null;

const TRIES = 4;
const PAUSE = 150;

/**
 * Claims a project for this tab. Null when another tab holds it; `steal` takes it from there.
 *
 * Asks a few times before it gives up: a page that was just left may not have let go yet. Where the browser has no locks
 * every claim is granted, as there is nothing to tell tabs apart with; the store sees then who comes second.
 */
export async function claimProject(
  id: string,
  steal = false,
  locks: Locks = navigator.locks ?? null,
): Promise<Claim | null> {
  if (!locks) return { release: () => {}, lost: new Promise(() => {}), exclusive: false };
  for (let attempt = 1; ; attempt++) {
    const claim = await ask(locks, `ulvex/${id}`, steal);
    if (claim || attempt === TRIES) return claim;
    await new Promise((resolve) => setTimeout(resolve, PAUSE));
  }
}

function ask(locks: NonNullable<Locks>, name: string, steal: boolean): Promise<Claim | null> {
  return new Promise((answer, fail) => {
    let tellLost = () => {};
    const lost = new Promise<void>((resolve) => (tellLost = resolve));
    const options: LockOptions = steal ? { steal: true } : { ifAvailable: true };
    locks
      .request(name, options, (lock) => {
        if (!lock) {
          answer(null);
          return undefined;
        }
        return new Promise<void>((release) => answer({ release, lost, exclusive: true }));
      })
      .catch((error: Error) => (error.name === 'AbortError' ? tellLost() : fail(error)));
  });
}
