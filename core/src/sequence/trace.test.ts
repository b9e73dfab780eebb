import { expect } from 'chai';
import fc from 'fast-check';
import { RAY_STATUS, rayBlock, statusReason, type RayBlock } from '../compute/ray-block.ts';
import { quickProject, type Quick } from '../project/fixtures.ts';
import { compileLens, type LensModel } from './lens-model.ts';
import { toGlobal } from './placement.ts';
import { traceBlock } from './trace.ts';

function modelOf(surfaces: readonly Quick[]): LensModel {
  const project = quickProject(surfaces);
  return compileLens(project, project.lenses[0]);
}

type Ray = readonly [position: readonly number[], direction: readonly number[]];

/** Rays traced to the image surface, directions made unit vectors. */
function traced(model: LensModel, rays: readonly Ray[], clip = false): RayBlock {
  const block = rayBlock(rays.length);
  rays.forEach(([position, direction], i) => {
    const length = Math.hypot(...direction);
    [block.x[i], block.y[i], block.z[i]] = position;
    [block.l[i], block.m[i], block.n[i]] = direction.map((part) => part / length);
  });
  traceBlock(model, block, rays.length, 0, { clip });
  return block;
}

const HEIGHTS = [0, 5, 20, 45, 60];
const parallel = HEIGHTS.map((h): Ray => [
  [0.6 * h, 0.8 * h, -80],
  [0, 0, 1],
]);

describe('traceBlock', () => {
  it('brings parallel light to one point by a paraboloid, all paths alike', () => {
    const rays = traced(modelOf([{ r: -200, k: -1, t: -100, n: 'mirror' }]), parallel);
    HEIGHTS.forEach((_, i) => {
      expect(Math.hypot(rays.x[i], rays.y[i])).to.be.lessThan(1e-12);
      expect(rays.path[i]).to.be.closeTo(180, 1e-12);
    });
  });

  it('brings parallel light to one point inside glass by an ellipsoid of k = −1/n²', () => {
    const n = 1.6;
    const rays = traced(modelOf([{ r: 60, k: -1 / (n * n), t: (60 * n) / (n - 1), n }]), parallel.slice(0, 4));
    for (let i = 0; i < 4; i++) {
      expect(Math.hypot(rays.x[i], rays.y[i])).to.be.lessThan(1e-12);
      expect(rays.path[i]).to.be.closeTo(rays.path[0], 1e-11);
    }
  });

  it('images the aplanatic points of a sphere on each other', () => {
    // Object at R(1 + n′/n) from the vertex in glass n, image at R(1 + n/n′) in air: the classic aplanatic pair.
    const n = 1.5;
    const R = -10;
    const object = R * (1 + 1 / n);
    const image = R * (1 + n);
    const model = modelOf([
      { t: 30, n },
      { r: R, t: image },
    ]);
    const rays = [0.05, 0.2, 0.45].map((slope): Ray => [
      [0, 0, 30 + object],
      [0, slope, 1],
    ]);
    const block = rayBlock(3);
    rays.forEach(([position, direction], i) => {
      const length = Math.hypot(...direction);
      [block.x[i], block.y[i], block.z[i]] = position;
      [block.l[i], block.m[i], block.n[i]] = direction.map((part) => part / length);
    });
    // The object is a point inside the glass, so the trace begins behind the flat, at the sphere.
    const inGlass: LensModel = {
      ...model,
      surfaces: model.surfaces.slice(1),
      indices: [model.indices[0].slice(1)],
    };
    block.z.forEach((z, i) => (block.z[i] = z - 30));
    traceBlock(inGlass, block, 3, 0, { clip: false });
    for (let i = 0; i < 3; i++) expect(block.y[i], `ray ${i}`).to.be.closeTo(0, 1e-12);
  });

  it('shifts a ray by a plane plate as the closed form says', () => {
    const [n, t, angle] = [1.517, 12, 0.5];
    const rays = traced(modelOf([{ t, n }, { t: 30 }]), [
      [
        [0, 0, 0],
        [0, Math.sin(angle), Math.cos(angle)],
      ],
    ]);
    const inside = Math.asin(Math.sin(angle) / n);
    expect(rays.y[0]).to.be.closeTo(t * Math.tan(inside) + 30 * Math.tan(angle), 1e-12);
    expect(rays.m[0]).to.be.closeTo(Math.sin(angle), 1e-15);
    expect(rays.path[0]).to.be.closeTo((n * t) / Math.cos(inside) + 30 / Math.cos(angle), 1e-12);
  });

  it('gives every ray that ends its reason and its surface', () => {
    const model = modelOf([
      { r: 20, t: 10, n: 1.9, semi: 8 },
      { r: 12, t: 10 },
    ]);
    const rays = traced(
      model,
      [
        [
          [0, 0, -5],
          [0, 0, 1],
        ],
        [
          [0, 9, -5],
          [0, 0, 1],
        ],
        [
          [0, 25, -5],
          [0, 0, 1],
        ],
      ],
      true,
    );
    expect([...rays.status]).to.deep.equal([RAY_STATUS.alive, RAY_STATUS.clipped, RAY_STATUS.missed]);
    expect(rays.at[2]).to.equal(0);
    const steep = modelOf([
      { t: 10, n: 1.9 },
      { r: -9, t: 10 },
    ]);
    const lost = traced(steep, [
      [
        [0, 7, 0],
        [0, 0, 1],
      ],
    ]);
    expect(lost.status[0]).to.equal(RAY_STATUS.totalReflection);
    expect(statusReason(lost.status[0])).to.equal('is totally reflected');
    expect(lost.at[0]).to.equal(1);
    expect(lost.y[0]).to.equal(7); // where it met the surface
  });

  it('says that a medium has no index', () => {
    const model = modelOf([{ t: 10, n: 1.5 }]);
    const undefinedGlass = { ...model, indices: [Float64Array.of(1, NaN, NaN)] };
    const rays = traced(undefinedGlass, [
      [
        [0, 0, -1],
        [0, 0.1, 1],
      ],
    ]);
    expect(rays.status[0]).to.equal(RAY_STATUS.noIndex);
    expect(rays.at[0]).to.equal(0);
  });

  it('folds light by a tilted mirror', () => {
    // A flat mirror tilted by 45° about x sends light from +z to +y; the image surface stands across that way.
    const model = modelOf([{ t: 50 }, { n: 'mirror', t: 0, frame: { tx: 45 } }, { t: 0, frame: { dy: 20, tx: 90 } }]);
    const [x, y, z] = toGlobal(model.surfaces[2], 0, 0, 0);
    expect([x, y, z]).to.deep.equal([0, 20, 50]);
    const seen: number[][] = [];
    const block = rayBlock(1);
    [block.x[0], block.y[0], block.z[0], block.n[0]] = [3, 2, 0, 1];
    traceBlock(model, block, 1, 0, {
      clip: false,
      until: 3,
      visit: (j, { x, y, z }) => seen.push(toGlobal(model.surfaces[j], x[0], y[0], z[0])),
    });
    expect(seen[1].map((value) => Number(value.toFixed(12)) + 0)).to.deep.equal([3, 2, 52]);
    expect(seen[2].map((value) => Number(value.toFixed(12)) + 0)).to.deep.equal([3, 20, 52]);
    expect(block.status[0]).to.equal(RAY_STATUS.alive);
    expect(block.path[0]).to.be.closeTo(52 + 18, 1e-12);
  });

  it('goes back along its own way when the lens is turned round', () => {
    const r = fc.oneof(fc.double({ min: 15, max: 200, noNaN: true }), fc.double({ min: -200, max: -15, noNaN: true }));
    const small = fc.double({ min: -0.2, max: 0.2, noNaN: true });
    const height = fc.double({ min: -4, max: 4, noNaN: true });
    fc.assert(
      fc.property(r, r, r, height, height, small, small, (r1, r2, r3, x, y, l, m) => {
        const forth = traced(
          modelOf([
            { r: r1, k: -0.5, t: 3, n: 1.5 },
            { r: r2, t: 2, n: 1.8 },
            { r: r3, k: 0.7, t: 10 },
          ]),
          [
            [
              [x, y, -10],
              [l, m, 1],
            ],
          ],
        );
        fc.pre(forth.status[0] === RAY_STATUS.alive);
        const back = traced(
          modelOf([
            { r: -r3, k: 0.7, t: 2, n: 1.8 },
            { r: -r2, t: 3, n: 1.5 },
            { r: -r1, k: -0.5, t: 10 },
          ]),
          [
            [
              [forth.x[0], forth.y[0], -10],
              [-forth.l[0], -forth.m[0], forth.n[0]],
            ],
          ],
        );
        expect(back.x[0]).to.be.closeTo(x, 1e-10);
        expect(back.y[0]).to.be.closeTo(y, 1e-10);
        expect(back.path[0]).to.be.closeTo(forth.path[0], 1e-10);
      }),
      { numRuns: 300 },
    );
  });

  it('never makes a number that is none of a living ray, whatever it meets', () => {
    const any = fc.double({ min: -1e6, max: 1e6, noNaN: true });
    const surface = fc.record({
      r: fc.oneof(
        any.filter((value) => Math.abs(value) > 1e-6),
        fc.constant(Infinity),
      ),
      k: fc.double({ min: -50, max: 50, noNaN: true }),
      t: fc.double({ min: -1000, max: 1000, noNaN: true }),
      n: fc.constantFrom<number | 'mirror'>(1, 1.5, 4, 'mirror'),
    });
    const unit = fc.double({ min: -1, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        fc.array(surface, { minLength: 1, maxLength: 6 }),
        any,
        any,
        any,
        unit,
        unit,
        unit,
        (list, x, y, z, l, m, n) => {
          fc.pre(Math.hypot(l, m, n) > 1e-3);
          const rays = traced(modelOf(list), [
            [
              [x, y, z],
              [l, m, n],
            ],
          ]);
          if (rays.status[0] === RAY_STATUS.alive) {
            for (const column of [rays.x, rays.y, rays.z, rays.l, rays.m, rays.n, rays.path]) {
              expect(Number.isFinite(column[0])).to.equal(true);
            }
            expect(Math.hypot(rays.l[0], rays.m[0], rays.n[0])).to.be.closeTo(1, 1e-9);
          } else expect(statusReason(rays.status[0])).to.not.match(/unknown/);
        },
      ),
      { numRuns: 3000 },
    );
  });
});
