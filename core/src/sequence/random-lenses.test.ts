import { expect } from 'chai';
import fc from 'fast-check';
import { RAY_STATUS, rayBlock, statusReason, type RayBlock } from '../compute/ray-block.ts';
import { applyEdits } from '../project/edit.ts';
import { quickProject, type Quick } from '../project/fixtures.ts';
import { SAMPLES } from '../shapes/fixtures.ts';
import { shapeDefinition, SHAPES, type Shape } from '../shapes/registry.ts';
import { compileLens, type LensModel } from './lens-model.ts';
import { traceBlock } from './trace.ts';

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });

/** Numbers of a shape as its sample has them, times something: gentle for the most part, absurd at times. */
const shape: fc.Arbitrary<Shape> = fc
  .tuple(
    fc.constantFrom(...SHAPES.map(({ kind }) => kind)),
    fc.array(fc.oneof({ weight: 8, arbitrary: number(-2, 2) }, { weight: 1, arbitrary: number(-300, 300) }), {
      minLength: 40,
      maxLength: 40,
    }),
  )
  .map(([kind, factors]) => {
    const sample = SAMPLES[kind] as unknown as Record<string, number | string>;
    const numbers = shapeDefinition(kind)!.parameters.map(({ id, above, allowInfinity }, i) => {
      const value = typeof sample[id] === 'number' ? sample[id] * factors[i] : 0;
      if (allowInfinity) return [id, Math.abs(value) < 1 ? 'infinity' : value];
      return [id, above === undefined ? value : Math.max(Math.abs(value), 1)];
    });
    return { kind, ...Object.fromEntries(numbers) } as Shape;
  });

const surface = fc.record({
  shape,
  t: fc.oneof(number(-5, 30), number(-1e4, 1e4)),
  n: fc.constantFrom<number | 'mirror'>(1, 1.3, 1.5, 1.9, 4, 'mirror'),
  semi: fc.option(number(0.5, 20), { nil: undefined }),
  frame: fc.option(
    fc.record({
      dx: number(-3, 3), dy: number(-3, 3), dz: number(-3, 3), tx: number(-80, 80), ty: number(-80, 80), tz: number(-180, 180),
      axis: fc.constantFrom('return', 'carry'),
    }),
    { nil: undefined },
  ),
}); // prettier-ignore

function lensOf(surfaces: readonly (Omit<Quick, 'r' | 'k'> & { shape: Shape })[]): LensModel {
  const project = quickProject(
    surfaces.map(({ shape: _shape, ...rest }) => JSON.parse(JSON.stringify(rest)) as Quick),
  );
  const edits = surfaces.map(({ shape: value }, i) => ({
    kind: 'set' as const,
    path: `lenses.lens.surfaces.s${i + 1}.shape`,
    value,
  }));
  const [lens] = applyEdits(project, edits).project.lenses;
  return compileLens(project, lens);
}

const RAYS = 1000;

/** Rays as a lens meets them, and some as none does: from very far, sideways, backwards, through the vertex. */
function rays(seed: number): RayBlock {
  const block = rayBlock(RAYS);
  let state = seed >>> 0 || 1;
  const random = () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0; // Numerical Recipes’ generator: good enough to scatter rays
    return state / 2 ** 31 - 1;
  };
  for (let i = 0; i < RAYS; i++) {
    const absurd = i % 10 === 0;
    const far = absurd ? 10 ** (8 * random()) : 15;
    [block.x[i], block.y[i], block.z[i]] = [far * random(), far * random(), absurd ? far * random() : -5];
    const [l, m, n] = absurd ? [random(), random(), random()] : [0.3 * random(), 0.3 * random(), 1];
    const length = Math.hypot(l, m, n) || 1;
    [block.l[i], block.m[i], block.n[i]] = [l / length, m / length, n / length || (length === 1 ? 1 : 0)];
  }
  return block;
}

describe('a million random rays through random lenses', () => {
  it('all end somewhere, with numbers and a reason', function () {
    this.timeout(120_000);
    const ends = new Map<number, number>();
    let seed = 0;
    fc.assert(
      fc.property(fc.array(surface, { minLength: 1, maxLength: 6 }), (surfaces) => {
        const model = lensOf(surfaces as never);
        const block = rays(++seed);
        traceBlock(model, block, RAYS, 0, { clip: true });
        for (let i = 0; i < RAYS; i++) {
          const status = block.status[i];
          ends.set(status, (ends.get(status) ?? 0) + 1);
          for (const key of ['x', 'y', 'z', 'l', 'm', 'n', 'path'] as const)
            if (!Number.isFinite(block[key][i]))
              throw new Error(`${key} of ray ${i} is ${block[key][i]}, status ${status}`);
          if (status === RAY_STATUS.alive) {
            const length = Math.hypot(block.l[i], block.m[i], block.n[i]);
            if (Math.abs(length - 1) > 1e-9) throw new Error(`the direction of ray ${i} is ${length} long`);
          } else if (!(block.at[i] >= 0 && block.at[i] < model.surfaces.length))
            throw new Error(`ray ${i} ended at surface ${block.at[i]}`);
        }
      }),
      { seed: 77, numRuns: 1000 },
    );
    const total = [...ends.values()].reduce((sum, count) => sum + count, 0);
    expect(total).to.be.at.least(1e6);
    for (const status of ends.keys()) expect(statusReason(status)).to.not.contain('unknown');
    // The lenses are hard, but not so hard that nothing is tested.
    expect(ends.get(RAY_STATUS.alive)! / total).to.be.above(0.05);
    for (const status of [RAY_STATUS.missed, RAY_STATUS.clipped, RAY_STATUS.totalReflection])
      expect(ends.get(status)! / total).to.be.above(0.001);
  });
});
