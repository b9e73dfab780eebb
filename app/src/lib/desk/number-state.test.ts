import type { Project } from '@ulvex/core';
import { expect } from 'chai';
import { heldWords, numberTitle, readable, stateWords } from './number-state.ts';

const surface = (id: string, name: string) => ({ id, name });
const project = {
  lenses: [{ id: 'tide', surfaces: [surface('a', 'L1 front'), surface('b', 'L1 back')] }],
  parameters: {
    'lenses.tide.surfaces.b.radius': { kind: 'linked', formula: '-1 * lenses.tide.surfaces.a.radius' },
    'lenses.tide.surfaces.a.radius': { kind: 'free', min: 10 },
  },
} as unknown as Project;

describe('states of numbers in words', () => {
  it('name surfaces and measures as people do', () => {
    expect(readable(project, '-1 * lenses.tide.surfaces.a.radius')).to.equal('−1 × L1 front radius');
    expect(readable(project, 'effective_focal_length / 2')).to.equal('Effective focal length / 2');
    expect(numberTitle(project, 'lenses.tide.surfaces.b.semi_aperture')).to.equal('L1 back semi aperture');
    expect(numberTitle(project, 'scenes.one.parts.hood.length')).to.equal('hood length');
    const hood = { id: 'hood', name: 'Lantern hood', body: { kind: 'sheet', width: 1, height: 1 } };
    const scene = { id: 'one', name: 'One', parts: [hood], sources: [], detectors: [] };
    const placed = { ...project, scenes: [scene] } as unknown as Project;
    expect(numberTitle(placed, 'scenes.one.parts.hood.frame.tx')).to.equal('Lantern hood tx');
  });

  it('say how far a number may go, and what it follows from', () => {
    expect(stateWords(project, { kind: 'free' })).to.equal('free');
    expect(stateWords(project, { kind: 'free', min: 1, max: 2 })).to.equal('free, from 1 to 2');
    expect(
      stateWords(project, {
        kind: 'derived',
        measure: 'paraxial_ray',
        of: 'tide',
        settings: { surface: 'b' },
        equals: '0 mm',
      }),
    ).to.equal('derived, so that Paraxial ray [L1 back] = 0 mm');
  });

  it('hold numbers that follow from others, and no others', () => {
    expect(heldWords(project, 'lenses.tide.surfaces.b.radius')).to.match(/linked: = −1 × L1 front radius/);
    expect(heldWords(project, 'lenses.tide.surfaces.a.radius')).to.equal(null);
    expect(heldWords(project, undefined)).to.equal(null);
  });
});
