import type { Project } from '@ulvex/core';
import { expect } from 'chai';
import { Previews } from './previews.ts';

const PATIENCE = 20;
const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));
const named = (name: string) => ({ name }) as Project;

describe('previews', () => {
  const shown: string[] = [];
  const previews = new Previews(({ name }) => shown.push(name), PATIENCE);
  beforeEach(() => {
    previews.drop();
    shown.length = 0;
  });

  it('appear with their answers, at once', () => {
    const typed = named('typed');
    previews.add(typed);
    expect(shown).to.deep.equal([]);
    previews.answered(typed);
    expect(shown).to.deep.equal(['typed']);
  });

  it('appear without answers that take long, the newest of them', async () => {
    previews.add(named('first'));
    previews.add(named('second'));
    await pause(3 * PATIENCE);
    expect(shown).to.deep.equal(['second']);
  });

  it('show nothing that was typed before the last commit, however late its answers come', async () => {
    const before = named('before the commit');
    previews.add(before);
    previews.drop();
    previews.answered(before);
    await pause(2 * PATIENCE);
    expect(shown).to.deep.equal([]);
    const after = named('after it');
    previews.add(after);
    previews.answered(before);
    expect(shown).to.deep.equal([]);
    previews.answered(after);
    expect(shown).to.deep.equal(['after it']);
  });
});
