import { expect } from 'chai';
import { claimProject, type Locks } from './claim.ts';

/** Locks as browsers have them: one holder a name, who is thrown out when somebody steals. */
function fakeLocks(): NonNullable<Locks> {
  const held = new Map<string, (error: Error) => void>();
  const request = async (name: string, options: LockOptions, use: (lock: Lock | null) => unknown) => {
    if (held.has(name) && !options.steal) return use(null);
    held.get(name)?.(Object.assign(new Error('stolen'), { name: 'AbortError' }));
    const thrownOut = new Promise<never>((_, reject) => held.set(name, reject));
    const mine = held.get(name);
    try {
      return await Promise.race([use({ name, mode: 'exclusive' }), thrownOut]);
    } finally {
      if (held.get(name) === mine) held.delete(name);
    }
  };
  return { request } as unknown as NonNullable<Locks>;
}

describe('claims', () => {
  it('are for one tab at a time, and free again when released', async () => {
    const locks = fakeLocks();
    const first = await claimProject('a', false, locks);
    expect(first).to.not.equal(null);
    expect(await claimProject('a', false, locks)).to.equal(null);
    expect(await claimProject('b', false, locks)).to.not.equal(null);
    first!.release();
    expect(await claimProject('a', false, locks)).to.not.equal(null);
  });

  it('can be taken over, and the first tab is told', async () => {
    const locks = fakeLocks();
    const first = await claimProject('a', false, locks);
    const second = await claimProject('a', true, locks);
    expect(second).to.not.equal(null);
    await first!.lost;
    expect(await claimProject('a', false, locks)).to.equal(null);
  });

  it('wait a moment for a page that is just leaving', async () => {
    const locks = fakeLocks();
    const leaving = await claimProject('a', false, locks);
    setTimeout(() => leaving!.release(), 100);
    expect(await claimProject('a', false, locks)).to.not.equal(null);
  });

  it('are granted where the browser has no locks', async () => {
    expect(await claimProject('a', false, null)).to.not.equal(null);
  });
});
