import { expect } from 'chai';
import fc from 'fast-check';
import { rayBlock, type RayBlock } from '../compute/ray-block.ts';
import { compileConic } from './conic.ts';
import { compileEvenAsphere } from './even-asphere.ts';
import { compiledPlane } from './plane.ts';
import { compileShape, SHAPES, shapeDefinition } from './registry.ts';
import type { CompiledShape } from './shape.ts';

/** A block with the one ray that leaves (x, y, z) along (l, m, n), made a unit vector. */
function oneRay(position: readonly number[], direction: readonly number[]): RayBlock {
  const rays = rayBlock(1);
  const length = Math.hypot(...direction);
  [rays.x[0], rays.y[0], rays.z[0]] = position;
  [rays.l[0], rays.m[0], rays.n[0]] = direction.map((part) => part / length);
  return rays;
}

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });

/** Chooses a point of the surface, steps back along a direction, and expects the same distance to be found again. */
function expectRoundTrip(shape: CompiledShape, point: number[], direction: number[], back: number, within: number) {
  const z = shape.sag(point[0], point[1]);
  const rays = oneRay([...point, z], direction);
  rays.x[0] -= back * rays.l[0];
  rays.y[0] -= back * rays.m[0];
  rays.z[0] -= back * rays.n[0];
  shape.intersect(rays, 1);
  expect(rays.t[0]).to.be.closeTo(back, within);
}

describe('shapes', () => {
  it('finds the exact axial and zonal points of a sphere', () => {
    const shape = compileConic(1 / 5, 0);
    const rays = oneRay([3, 0, -10], [0, 0, 1]);
    shape.intersect(rays, 1);
    expect(rays.t[0]).to.be.closeTo(11, 1e-14); // 3-4-5 triangle: sag 1
    expect(shape.reach).to.equal(5);
  });

  it('misses beyond the equator and beside the sphere', () => {
    const shape = compileConic(1 / 5, 0);
    const beside = oneRay([5.1, 0, -10], [0, 0, 1]);
    shape.intersect(beside, 1);
    expect(beside.t[0]).to.be.NaN;
    const backwards = oneRay([0, 5.1, 20], [0, 0, -1]);
    shape.intersect(backwards, 1);
    expect(backwards.t[0]).to.be.NaN;
  });

  it('recovers chosen points of conics, met from either side', () => {
    fc.assert(
      fc.property(
        number(-0.05, 0.05),
        number(-3, 2),
        number(-8, 8),
        number(-8, 8),
        number(-0.4, 0.4),
        number(-0.4, 0.4),
        fc.constantFrom(1, -1),
        number(1, 40),
        (c, k, x, y, l, m, way, back) => {
          const shape = compileConic(c, k);
          fc.pre(Math.hypot(x, y) < 0.9 * shape.reach);
          expectRoundTrip(shape, [x, y], [l, m, way], back, 1e-11);
        },
      ),
      { seed: 11, numRuns: 2000 },
    );
  });

  it('recovers chosen points of aspheres', () => {
    fc.assert(
      fc.property(
        number(-0.04, 0.04),
        number(-2, 1),
        number(-1e-5, 1e-5),
        number(-1e-7, 1e-7),
        number(-6, 6),
        number(-6, 6),
        number(-0.3, 0.3),
        number(1, 30),
        (c, k, a4, a6, x, y, slope, back) => {
          const shape = compileEvenAsphere(c, k, [0, a4, a6]);
          expectRoundTrip(shape, [x, y], [slope, -slope, 1], back, 1e-11);
        },
      ),
      { seed: 12, numRuns: 2000 },
    );
  });

  it('has unit normals square to the surface', () => {
    const shapes = [
      compileConic(0.04, -2),
      compileConic(-0.06, 0.5),
      compileEvenAsphere(0.03, -1, [1e-4, 2e-5, -1e-8]),
    ];
    const step = 1e-5;
    for (const shape of shapes) {
      const rays = oneRay([3, -2, shape.sag(3, -2)], [0, 0, 1]);
      shape.normals(rays, 1);
      const slopeX = (shape.sag(3 + step, -2) - shape.sag(3 - step, -2)) / (2 * step);
      const slopeY = (shape.sag(3, -2 + step) - shape.sag(3, -2 - step)) / (2 * step);
      expect(Math.hypot(rays.nx[0], rays.ny[0], rays.nz[0])).to.be.closeTo(1, 1e-15);
      expect(rays.nx[0] + slopeX * rays.nz[0]).to.be.closeTo(0, 1e-9);
      expect(rays.ny[0] + slopeY * rays.nz[0]).to.be.closeTo(0, 1e-9);
    }
  });

  it('agrees between a paraboloid written as a conic and as an r² term', () => {
    const asConic = compileConic(0.02, -1);
    const asTerm = compileEvenAsphere(0, 0, [0.01]);
    expect(asTerm.curvature).to.equal(asConic.curvature);
    for (const r of [0, 1, 10, 40]) expect(asTerm.sag(r, 0)).to.be.closeTo(asConic.sag(r, 0), 1e-13);
    const rays = oneRay([1, 20, -5], [0.1, 0.2, 1]);
    asConic.intersect(rays, 1);
    const expected = rays.t[0];
    asTerm.intersect(rays, 1);
    expect(rays.t[0]).to.be.closeTo(expected, 1e-13);
  });

  it('treats a flat as the limit of a sphere, and a ray along it as a miss', () => {
    const rays = oneRay([1, 2, -3], [0.1, -0.2, 1]);
    compiledPlane.intersect(rays, 1);
    const exact = rays.t[0];
    compileConic(0, 0).intersect(rays, 1);
    expect(rays.t[0]).to.be.closeTo(exact, 1e-15);
    const along = oneRay([0, 0, 1], [1, 0, 0]);
    compiledPlane.intersect(along, 1);
    expect(along.t[0]).to.be.NaN;
  });

  it('is registered once per kind, each compiling from its parameters', () => {
    for (const definition of SHAPES) {
      expect(shapeDefinition(definition.kind)).to.equal(definition);
      const ids = definition.parameters.map((parameter) => parameter.id);
      expect(new Set(ids).size, definition.kind).to.equal(ids.length);
    }
    expect(compileShape({ kind: 'sphere', radius: 'infinity' }).curvature).to.equal(0);
    expect(compileShape({ kind: 'sphere', radius: 0 }).sag(1, 0)).to.be.NaN;
    expect(() => compileShape({ kind: 'saddle' } as never)).to.throw('saddle');
  });
});
