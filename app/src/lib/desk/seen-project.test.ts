import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { inState, readProjectText } from '@ulvex/core';
import { seenProject } from './seen-project.ts';

const read = readProjectText(readFileSync('samples/tide-camera.ulvex.json', 'utf8'));
if (!read.ok) throw new Error('the sample does not read');
const base = read.project;

describe('the project that a place on a board sees', () => {
  const near = inState(base, 'near');
  if (!near.ok) throw new Error(near.reason);
  const atHand = near.value;

  it('is the one at hand, the design, or that of its own state', () => {
    expect(seenProject(base, atHand, null)).to.equal(atHand);
    expect(seenProject(base, atHand, 'designed')).to.equal(base);
    expect(seenProject(base, base, 'near')).to.deep.equal(atHand);
    expect(seenProject(base, base, 'near').lenses[0].object.distance).to.equal(4000);
  });

  it('is the same object until the design changes, and the one at hand if its state is gone', () => {
    expect(seenProject(base, base, 'near')).to.equal(seenProject(base, base, 'near'));
    const changed = { ...base, name: 'another' };
    expect(seenProject(changed, changed, 'near')).not.to.equal(seenProject(base, base, 'near'));
    expect(seenProject(base, base, 'gone')).to.equal(base);
  });
});
