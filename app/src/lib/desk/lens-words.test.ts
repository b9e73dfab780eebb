import { readProject, type Lens } from '@ulvex/core';
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { fieldLabel } from './labels.ts';
import { fieldLabels, rayWords, waveWords } from './lens-words.ts';

describe('what a lens is called on screen', () => {
  const read = readProject(JSON.parse(readFileSync('samples/tide-camera.ulvex.json', 'utf8')));
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const lens: Lens = read.project.lenses[0];

  it('names fields with their unit, x before y', () => {
    expect([...fieldLabels(lens)]).to.deep.equal([
      ['axis', '0°'],
      ['zone', '10°'],
      ['edge', '16°'],
    ]);
    expect(fieldLabel('image_height', { x: -1.5, y: 2 })).to.equal('(−1.5 mm, 2 mm)');
    expect(fieldLabels(null).size).to.equal(0);
  });

  it('names the wavelengths that have a weight', () => {
    expect(waveWords(lens)).to.equal('F d C');
    const two = { ...lens, wavelengths: lens.wavelengths.with(0, { ...lens.wavelengths[0], weight: 0 }) };
    expect(waveWords(two)).to.equal('d C');
  });

  it('says how rays are aimed and clipped', () => {
    expect(rayWords('stop', 'full')).to.deep.equal(['aimed at the stop', 'full pupil']);
    expect(rayWords('paraxial', 'clipped')).to.deep.equal(['aimed at the entrance pupil', 'clipped by set apertures']);
  });
});
