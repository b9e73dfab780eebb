import { expect } from 'chai';
import { sphereFace } from '../../bodies/round.ts';
import { detector, sceneOf } from '../../scene/fixtures.ts';
import type { DetectorPlace } from '../../detectors/registry.ts';
import { detectorOutline, sectionLines } from './outlines.ts';

const lengthOf = (pieces: Float32Array) => {
  let sum = 0;
  for (let k = 0; k < pieces.length; k += 6)
    sum += Math.hypot(pieces[k + 3] - pieces[k], pieces[k + 4] - pieces[k + 1], pieces[k + 5] - pieces[k + 2]);
  return sum;
};

describe('Lines of a section', () => {
  it('of a ball are a circle of the radius at that height, closed and in the plane', () => {
    const lines = sectionLines(sphereFace(5).triangles(160), 0, 3);
    expect(lengthOf(lines)).to.be.closeTo(8 * Math.PI, 0.05);
    for (let k = 0; k < lines.length; k += 3) {
      expect(lines[k]).to.equal(3);
      expect(Math.hypot(lines[k + 1], lines[k + 2])).to.be.closeTo(4, 0.02);
    }
  });

  it('are none beside the body', () => {
    expect(sectionLines(sphereFace(5).triangles(40), 2, 5.5)).to.have.length(0);
  });
});

describe('Outlines of detectors', () => {
  const outline = (on: DetectorPlace) => {
    const { detectors } = sceneOf({ parts: [], sources: [], detectors: [detector(on)] });
    return detectorOutline(detectors[0]);
  };
  it('have the lengths of their edges', () => {
    expect(lengthOf(outline({ kind: 'rectangle', width: 4, height: 3 }))).to.be.closeTo(14, 1e-6);
    expect(lengthOf(outline({ kind: 'disc', radius: 2 }))).to.be.closeTo(4 * Math.PI, 0.02);
    expect(lengthOf(outline({ kind: 'cylinder', radius: 2, length: 5 }))).to.be.closeTo(8 * Math.PI + 20, 0.04);
    expect(lengthOf(outline({ kind: 'sphere', radius: 2 }))).to.be.closeTo(12 * Math.PI, 0.06);
    expect(lengthOf(outline({ kind: 'block', width: 1, height: 2, depth: 3, layers: 4 }))).to.be.closeTo(24, 1e-6);
    expect(outline({ kind: 'far', halfX: 30, halfY: 30 })).to.have.length(0);
  });
});
