import { failure, success } from '@ulvex/core';
import { expect } from 'chai';
import type { Desk } from '../desk/desk.svelte.ts';
import { takeFile, type Taking } from './take-file.ts';

/** As much of a desk as is told what was wrong. */
const deskOf = () => ({ notice: null as { readonly title: string } | null });

async function taken(file: File, more: Partial<Taking<string>> = {}) {
  const desk = deskOf();
  const used: string[] = [];
  const taking: Taking<string> = {
    most: 20,
    what: 'a list',
    read: async (one) => success(await one.text()),
    use: (value) => used.push(value),
    ...more,
  };
  await takeFile(desk as unknown as Desk, file, taking);
  return { used, told: desk.notice?.title ?? '' };
}

describe('a file that is taken in', () => {
  const file = new File(['1 2 3'], 'radii.csv');

  it('is read and used', async () => {
    expect(await taken(file)).to.deep.equal({ used: ['1 2 3'], told: '' });
  });

  it('is refused with its name and the reason, and changes nothing', async () => {
    const wrong = await taken(file, { read: async () => failure('Line 2: no number.') });
    expect(wrong).to.deep.equal({ used: [], told: 'radii.csv was not imported: Line 2: no number.' });
    const large = await taken(new File(['x'.repeat(21)], 'radii.csv'));
    expect(large).to.deep.equal({
      used: [],
      told: 'radii.csv was not imported: it is too large for a list.',
    });
    const broken = await taken(file, { read: () => Promise.reject(new Error('The worker died.')) });
    expect(broken).to.deep.equal({ used: [], told: 'radii.csv was not imported: The worker died.' });
  });
});
