import { expect } from 'chai';
import fc from 'fast-check';
import { KERNEL_BLOCK, traceKernel } from '../compute/kernel.ts';
import { RAY_STATUS, rayBlock, type RayBlock } from '../compute/ray-block.ts';
import { rigidOf } from '../math/rigid.ts';
import { applyEdits } from '../project/edit.ts';
import { quickProject, type Quick } from '../project/fixtures.ts';
import { compileLens, type LensModel } from './lens-model.ts';
import { traceBlock } from './trace.ts';

/** A fan of `count` rays with some slope, launched `far` mm in front of the first vertex. */
function fan(count: number, slope: number, far: number): RayBlock {
  const rays = rayBlock(count);
  for (let i = 0; i < count; i++) {
    const x = -6 + (12 * i) / count;
    const y = 5 * Math.sin(i);
    const n = 1 / Math.hypot(1, slope);
    rays.x[i] = x;
    rays.y[i] = y - slope * far;
    rays.z[i] = -far;
    rays.m[i] = slope * n;
    rays.n[i] = n;
  }
  return rays;
}

function modelOf(surfaces: readonly Quick[], terms: readonly number[] = []): LensModel {
  const project = quickProject(surfaces);
  const { lenses } =
    terms.length === 0
      ? project
      : applyEdits(project, [
          {
            kind: 'set',
            path: 'lenses.lens.surfaces.s1.shape',
            value: {
              kind: 'even_asphere',
              radius: surfaces[0].r ?? 'infinity',
              conic: surfaces[0].k ?? 0,
              ...Object.fromEntries(terms.map((value, i) => [`a${2 * i + 2}`, value])),
            },
          },
        ]).project;
  return compileLens(project, lenses[0]);
}

/** Traces the same rays by the compiled kernel and by the shapes, and compares every column. */
function compare(model: LensModel, rays: () => RayBlock, tolerance = 1e-10): Set<number> {
  const [compiled, plain] = [rays(), rays()];
  const count = compiled.capacity;
  traceBlock(model, compiled, count, 0, { clip: true });
  traceBlock(model, plain, count, 0, { clip: true, kernel: null });
  for (let i = 0; i < count; i++) {
    expect(compiled.status[i], `status of ray ${i}`).to.equal(plain.status[i]);
    if (plain.status[i] !== RAY_STATUS.alive) expect(compiled.at[i]).to.equal(plain.at[i]);
    for (const column of ['x', 'y', 'z', 'l', 'm', 'n', 'path'] as const)
      expect(compiled[column][i], `${column} of ray ${i}`).to.be.closeTo(plain[column][i], tolerance);
    if (plain.status[i] === RAY_STATUS.alive)
      for (const column of ['nx', 'ny', 'nz'] as const)
        expect(compiled[column][i]).to.be.closeTo(plain[column][i], tolerance);
  }
  return new Set(plain.status);
}

describe('the compiled kernel', () => {
  it('is there', () => {
    expect(traceKernel()).to.not.equal(null);
  });

  it('traces spheres, conics, flats and mirrors as the shapes do', () => {
    const curved = fc.oneof(fc.double({ min: 12, max: 400, noNaN: true }), fc.constant(Infinity));
    const surface = fc.record({
      r: fc.tuple(curved, fc.boolean()).map(([r, back]) => (back ? -r : r)),
      k: fc.constantFrom(0, 0, -1, -2.5, 0.7),
      t: fc.double({ min: -3, max: 8, noNaN: true }),
      n: fc.constantFrom<number | 'mirror'>(1, 1.5, 1.8, 'mirror'),
      semi: fc.constantFrom(4, 9),
    });
    fc.assert(
      fc.property(
        fc.array(surface, { minLength: 1, maxLength: 6 }),
        fc.double({ min: -0.4, max: 0.4, noNaN: true }),
        fc.constantFrom(1, 2, 7),
        (list, slope, count) => void compare(modelOf(list), () => fan(count, slope, 3), 1e-9),
      ),
      { numRuns: 400, seed: 31 },
    );
  });

  it('settles on even aspheres as the shapes do, from the conic or from the vertex plane', () => {
    for (const terms of [
      [0, 1e-5],
      [1e-3, -2e-5, 3e-8, -1e-10],
      [0, 0, 0, 0, 0, 1e-13],
    ]) {
      for (const r of [20, -35, Infinity]) {
        for (const k of [-1, 0, 0.5]) {
          const seen = compare(
            modelOf(
              [
                { r, k, t: 3, n: 1.6 },
                { r: 50, t: 4 },
              ],
              terms,
            ),
            () => fan(41, 0.1, 2),
          );
          expect([...seen]).to.deep.equal([RAY_STATUS.alive]);
        }
      }
    }
  });

  it('ends rays for the same reasons at the same surfaces', () => {
    const ball = modelOf([
      { r: 5.5, t: 5.5, n: 1.9, semi: 5 },
      { r: -5.5, t: 1, n: 1, semi: 4 },
      { r: 3, t: 1, n: 1.2 },
    ]);
    const seen = compare(ball, () => fan(64, 0.3, 4));
    const { missed, clipped, alive } = RAY_STATUS;
    expect(seen).to.include(missed);
    expect(seen).to.include(clipped);
    expect(seen).to.include(alive);
    const rod = modelOf([
      { t: 2, n: 1.8 },
      { r: -4, k: -1, t: 5, n: 1 },
    ]);
    expect(compare(rod, () => fan(64, 0, 1))).to.include(RAY_STATUS.totalReflection);
  });

  it('keeps its digits for rays from far away', () => {
    compare(
      modelOf([
        { r: 30, t: 5, n: 1.5 },
        { r: -30, k: -0.6, t: 50 },
      ]),
      () => fan(9, 1e-6, 1e7),
      1e-8,
    );
  });

  it('takes bundles of any size, with the surfaces seen part by part', () => {
    const model = modelOf([
      { r: 40, t: 4, n: 1.5 },
      { r: -60, t: 30 },
    ]);
    for (const count of [1, 9, KERNEL_BLOCK - 1, KERNEL_BLOCK, 2 * KERNEL_BLOCK + 3]) {
      compare(model, () => fan(count, 0.05, 3));
      const heights = new Float64Array(count);
      const rays = fan(count, 0.05, 3);
      traceBlock(model, rays, count, 0, {
        clip: false,
        visit: (j, part, from, size) => {
          if (j === 2) for (let i = 0; i < size; i++) heights[from + i] = part.y[i];
        },
      });
      expect([...heights]).to.deep.equal([...rays.y]);
    }
  });

  it('shares its block with shapes and frames that it does not know', () => {
    const model = modelOf([
      { r: 40, t: 4, n: 1.5, frame: { tx: 3, dy: 0.4 } },
      { r: -60, k: 0.3, t: 30 },
    ]);
    const foreign: LensModel = {
      ...model,
      surfaces: model.surfaces.map((surface, j) => {
        const { form: _form, ...shape } = surface.shape;
        return j === 1 ? { ...surface, shape } : surface;
      }),
    };
    compare(foreign, () => fan(300, 0.02, 2));
  });

  it('goes into tilted frames to the last bit, and leaves rays that ended where they are', () => {
    const kernel = traceKernel()!;
    const { block } = kernel;
    const motion = rigidOf({ dx: 0.3, dy: -1.7, dz: 12.5, tx: 3, ty: -7, tz: 20 });
    const { shift, rotation: r } = motion;
    const columns = ['x', 'y', 'z', 'l', 'm', 'n'] as const;
    for (const count of [1, 2, 5, KERNEL_BLOCK]) {
      for (let i = 0; i < KERNEL_BLOCK; i++) {
        columns.forEach((name, k) => (block[name][i] = Math.sin(7 * i + k) * (k < 3 ? 40 : 1)));
        block.status[i] = i % 7 === 3 ? RAY_STATUS.missed : RAY_STATUS.alive;
      }
      const before = Object.fromEntries(columns.map((name) => [name, block[name].slice()]));
      kernel.move(count, motion);
      for (let i = 0; i < KERNEL_BLOCK; i++) {
        const [x, y, z, l, m, n] = columns.map((name) => before[name][i]);
        const goes = i < count && block.status[i] === RAY_STATUS.alive;
        const wanted = goes
          ? [0, 1, 2]
              .map((k) => shift[k] + r[3 * k] * x + r[3 * k + 1] * y + r[3 * k + 2] * z)
              .concat([0, 1, 2].map((k) => r[3 * k] * l + r[3 * k + 1] * m + r[3 * k + 2] * n))
          : [x, y, z, l, m, n];
        expect(columns.map((name) => block[name][i])).to.deep.equal(wanted);
      }
    }
  });
});
