import { expect } from 'chai';
import fc from 'fast-check';
import { rayBlock, type RayBlock } from '../compute/ray-block.ts';
import { ridders } from '../math/ridders.ts';
import type { Extent } from '../math/parameter.ts';
import { compileConic } from './conic.ts';
import { qbfsPolynomials, qconPolynomials } from './forbes.ts';
import { compileShape, SHAPES, type Shape } from './registry.ts';
import { SAMPLES } from './fixtures.ts';
import type { CompiledShape } from './shape.ts';
import { compileToroid } from './toroid.ts';
import { compileBiconic } from './biconic.ts';

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const kind = fc.constantFrom(...SHAPES.map((shape) => shape.kind));

function oneRay(position: readonly number[], direction: readonly number[]): RayBlock {
  const rays = rayBlock(1);
  [rays.x[0], rays.y[0], rays.z[0]] = position;
  [rays.l[0], rays.m[0], rays.n[0]] = direction;
  return rays;
}

/** The jet of the sag; of its facets, whose slopes are the surface's, where it has them. */
function jetOf(shape: CompiledShape, x: number, y: number): Float64Array {
  const out = new Float64Array(6);
  (shape.facets ?? shape.derivatives).jet(x, y, out);
  return out;
}

/** The sample with a number moved as solvers move it. */
function moved(shape: Shape, id: string, by: number): CompiledShape {
  const before = (shape as unknown as Record<string, Extent | undefined>)[id];
  const radius = id.startsWith('radius') || id === 'focal_length' || id === 'object';
  const next = radius ? 1 / (1 / (before as number) + by) : ((before as number | undefined) ?? 0) + by;
  return compileShape({ ...shape, [id]: next } as Shape);
}

describe('every shape', () => {
  it('has a sample here', () => {
    expect(Object.keys(SAMPLES).sort()).to.deep.equal(SHAPES.map((shape) => shape.kind).sort());
  });

  it('is met where it is, from either side and at a slant', () => {
    fc.assert(
      fc.property(
        kind,
        number(-6, 6),
        number(-6, 6),
        number(-0.3, 0.3),
        number(-0.3, 0.3),
        fc.constantFrom(1, -1),
        number(1, 30),
        (which, x, y, slopeX, slopeY, way, back) => {
          const shape = compileShape(SAMPLES[which]);
          const length = Math.hypot(slopeX, slopeY, 1);
          const direction = [slopeX / length, slopeY / length, way / length];
          const hit = [x, y, shape.sag(x, y)];
          const rays = oneRay(
            hit.map((part, i) => part - back * direction[i]),
            direction,
          );
          shape.intersect(rays, 1);
          expect(rays.t[0], which).to.be.closeTo(back, 1e-9);
        },
      ),
      { seed: 41, numRuns: 3000 },
    );
  });

  it('has unit normals along its gradient, toward +z', () => {
    fc.assert(
      fc.property(kind, number(-6, 6), number(-6, 6), (which, x, y) => {
        const shape = compileShape(SAMPLES[which]);
        const rays = oneRay([x, y, shape.sag(x, y)], [0, 0, 1]);
        shape.normals(rays, 1);
        const [, zx, zy] = jetOf(shape, x, y);
        expect(Math.hypot(rays.nx[0], rays.ny[0], rays.nz[0])).to.be.closeTo(1, 1e-14);
        expect(rays.nz[0]).to.be.above(0);
        expect(rays.nx[0]).to.be.closeTo(-zx * rays.nz[0], 1e-12);
        expect(rays.ny[0]).to.be.closeTo(-zy * rays.nz[0], 1e-12);
      }),
      { seed: 42, numRuns: 1000 },
    );
  });

  for (const definition of SHAPES)
    it(`has exact derivatives: ${definition.title}`, () => {
      const sample = SAMPLES[definition.kind];
      const shape = compileShape(sample);
      for (const [x, y] of [
        [1.5, -2.5],
        [-4, 3],
        [0.5, 5],
      ] as const) {
        const jet = jetOf(shape, x, y);
        if (!shape.facets) expect(jet[0]).to.be.closeTo(shape.sag(x, y), 1e-14);
        const byX = ridders((h) => [...jetOf(shape, x + h, y).slice(0, 3)], 0.1).values;
        const byY = ridders((h) => [...jetOf(shape, x, y + h).slice(0, 3)], 0.1).values;
        [jet[1], jet[3], jet[4]].forEach((exact, i) => expect(exact).to.be.closeTo(byX[i], 1e-9));
        [jet[2], jet[4], jet[5]].forEach((exact, i) => expect(exact).to.be.closeTo(byY[i], 1e-9));
        for (const { id, transform, power = 0 } of definition.parameters) {
          const step = transform === 'reciprocal' ? 1e-3 : 0.05 * 6 ** -power;
          const expected = ridders((h) => [...jetOf(moved(sample, id, h), x, y).slice(0, 3)], step).values;
          const out = new Float64Array(3);
          (shape.facets ?? shape.derivatives).by[id](x, y, out);
          out.forEach((exact, i) =>
            expect(exact, `${id} ${i}`).to.be.closeTo(expected[i], 1e-8 * Math.max(1, Math.abs(expected[i]))),
          );
        }
      }
    });

  it('says rightly whether it is its own mirror image, and its curvature at the vertex', () => {
    for (const { kind: which } of SHAPES) {
      const shape = compileShape(SAMPLES[which]);
      const same = [
        [2, 1],
        [3, -4],
        [1, 5],
      ].every(([x, y]) => Math.abs(shape.sag(x, y) - shape.sag(-x, y)) < 1e-13);
      expect(shape.mirrorX ?? true, which).to.equal(same);
      expect(jetOf(shape, 0, 0)[5], which).to.be.closeTo(shape.curvature, 1e-9);
    }
  });

  it('is missed, not lost, by rays that pass it by', () => {
    for (const { kind: which } of SHAPES) {
      const shape = compileShape(SAMPLES[which]);
      const rays = oneRay([0, 500, -10], [1, 0, 0]);
      shape.intersect(rays, 1);
      expect(rays.t[0], which).to.be.NaN;
    }
  });
});

describe('special cases of shapes', () => {
  const at = [
    [1, 2],
    [-3, 4],
    [5, -1],
  ] as const;

  it('a toroid and a biconic of equal radii are close to a sphere, and a toroid is one exactly', () => {
    const sphere = compileConic(1 / 40, 0);
    const toroid = compileToroid(1 / 40, 0, 1 / 40);
    const biconic = compileBiconic(1 / 40, -0.7, 1 / 40, -0.7);
    const conic = compileConic(1 / 40, -0.7);
    for (const [x, y] of at) {
      expect(toroid.sag(x, y)).to.be.closeTo(sphere.sag(x, y), 1e-14);
      expect(biconic.sag(x, y)).to.be.closeTo(conic.sag(x, y), 1e-14);
    }
  });

  it('a toroid is its profile turned about the line at its radius in x', () => {
    const toroid = compileToroid(1 / 50, -0.5, -1 / 30);
    const profile = compileConic(1 / 50, -0.5);
    for (const [x, y] of at) {
      const z = toroid.sag(x, y);
      expect(Math.hypot(z + 30, x)).to.be.closeTo(30 + profile.sag(0, y), 1e-12);
    }
  });

  it('an axicon keeps its slope up to the axis', () => {
    const cone = compileShape({ kind: 'odd_asphere', radius: 'infinity', a1: 0.2 });
    const rays = oneRay([3, 4, -5], [0, 0, 1]);
    cone.intersect(rays, 1);
    expect(rays.t[0]).to.be.closeTo(6, 1e-12);
    expect(jetOf(cone, 0, 0).every((value) => Number.isFinite(value))).to.equal(true);
  });

  it('Forbes polynomials are those of the papers', () => {
    const [, q1, q2] = qbfsPolynomials(3);
    const value = (p: readonly number[], w: number) => p.reduce((sum, a, i) => sum + a * w ** i, 0);
    for (const w of [0, 0.3, 0.8, 1]) {
      expect(value(q1, w)).to.be.closeTo((13 - 16 * w) / Math.sqrt(19), 1e-14);
      expect(value(q2, w)).to.be.closeTo(Math.sqrt(2 / 95) * (29 - 4 * w * (25 - 19 * w)), 1e-13);
      const [, c1, c2, c3] = qconPolynomials(4);
      expect(value(c1, w)).to.be.closeTo(6 * w - 5, 1e-14);
      expect(value(c2, w)).to.be.closeTo(15 - 14 * w * (3 - 2 * w), 1e-13);
      expect(value(c3, w)).to.be.closeTo(-35 + 12 * w * (14 - w * (21 - 10 * w)), 1e-12);
    }
  });

  it('slopes of Qbfs terms are orthonormal over the pupil', () => {
    // ∫ S_m′ S_n′ over u with the weight 1/(u√(1−u²)) · 2/π… as mean over θ of u = sin θ.
    const polynomials = qbfsPolynomials(5);
    const slope = (m: number, u: number) => {
      const h = 1e-5;
      const s = (v: number) => v * v * (1 - v * v) * polynomials[m].reduce((sum, a, i) => sum + a * v ** (2 * i), 0);
      return (s(u + h) - s(u - h)) / (2 * h);
    };
    const COUNT = 400;
    for (let m = 0; m < 5; m++)
      for (let n = 0; n <= m; n++) {
        let mean = 0;
        for (let k = 0; k < COUNT; k++) {
          const u = Math.sin((Math.PI * (k + 0.5)) / (2 * COUNT));
          mean += (slope(m, u) * slope(n, u)) / COUNT;
        }
        expect(mean, `${m} ${n}`).to.be.closeTo(m === n ? 1 : 0, 1e-6);
      }
  });
});
