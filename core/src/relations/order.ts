/** Something that follows from others. */
export interface Follower {
  readonly address: string;
  /** Addresses that its formula names. */
  readonly needs: readonly string[];
}

/** Followers in an order in which each comes after what it needs, and the rings that have no such order. */
export interface Ordered<F extends Follower> {
  readonly order: readonly F[];
  /** Each as the path round it, its first address again at the end. */
  readonly cycles: readonly (readonly string[])[];
}

/** Puts followers in order; those on a ring, or behind one, are left out. */
export function inOrder<F extends Follower>(followers: readonly F[]): Ordered<F> {
  const byAddress = new Map(followers.map((one) => [one.address, one]));
  const state = new Map<string, 'open' | 'done' | 'stuck'>();
  const order: F[] = [];
  const cycles: string[][] = [];
  const path: string[] = [];
  const visit = (one: F): boolean => {
    const known = state.get(one.address);
    if (known === 'open') {
      cycles.push([...path.slice(path.indexOf(one.address)), one.address]);
      return false;
    }
    if (known !== undefined) return known === 'done';
    state.set(one.address, 'open');
    path.push(one.address);
    let free = true;
    for (const need of one.needs) {
      const before = byAddress.get(need);
      if (before && !visit(before)) free = false;
    }
    path.pop();
    state.set(one.address, free ? 'done' : 'stuck');
    if (free) order.push(one);
    return free;
  };
  for (const one of followers) visit(one);
  return { order, cycles };
}
