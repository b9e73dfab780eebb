import { expect } from 'chai';
import type { ViewFace } from '@ulvex/core';
import { flatNormal } from './flat-faces.ts';

const face = (...normals: readonly number[]) =>
  ({ triangles: { normals: Float32Array.from(normals) } }) as unknown as ViewFace;

describe('Faces that are drawn flat', () => {
  it('have one normal; curved ones and empty ones have none', () => {
    expect(flatNormal(face(0, 0, 1, 0, 0, 1, 0, 0, 1))).to.deep.equal([0, 0, 1]);
    expect(flatNormal(face(0, 0, 1, 0, 0.1, 0.995, 0, 0, 1))).to.equal(null);
    expect(flatNormal(face())).to.equal(null);
  });
});
