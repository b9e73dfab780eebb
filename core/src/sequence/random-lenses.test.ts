import { expect } from 'chai';
import fc from 'fast-check';
import { RAY_STATUS, rayBlock, statusReason, type RayBlock } from '../compute/ray-block.ts';
import { AT_REST, inverse, shifted, type Rigid } from '../math/rigid.ts';
import { applyEdits } from '../project/edit.ts';
import { quickProject, type Quick } from '../project/fixtures.ts';
import { PHASE_SAMPLES } from '../phases/fixtures.ts';
import { SAMPLES } from '../shapes/fixtures.ts';
import { shapeDefinition, SHAPES, type Shape } from '../shapes/registry.ts';
import { compileLens, type LensModel } from './lens-model.ts';
import { traceBlock } from './trace.ts';

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });

/** Numbers of a shape as its sample has them, times something. */
const shapeTimes = (factor: fc.Arbitrary<number>): fc.Arbitrary<Shape> =>
  fc
    .tuple(fc.constantFrom(...SHAPES.map(({ kind }) => kind)), fc.array(factor, { minLength: 40, maxLength: 40 }))
    .map(([kind, factors]) => {
      const sample = SAMPLES[kind] as unknown as Record<string, unknown>;
      const numbers = shapeDefinition(kind)!.parameters.map(({ id, above, allowInfinity }, i) => {
        const given = sample[id];
        const value = typeof given === 'number' ? given * factors[i] : 0;
        if (allowInfinity) return [id, Math.abs(value) < 1 ? 'infinity' : value];
        return [id, above === undefined ? value : Math.max(Math.abs(value), 1)];
      });
      return {
        kind,
        ...Object.fromEntries(numbers),
        ...('grid' in sample && { grid: sample.grid }),
      } as Shape;
    });

/** Gentle for the most part, absurd at times. */
const surface = fc.record({
  shape: shapeTimes(fc.oneof({ weight: 8, arbitrary: number(-2, 2) }, { weight: 1, arbitrary: number(-300, 300) })),
  t: fc.oneof(number(-5, 30), number(-1e4, 1e4)),
  n: fc.constantFrom<number | 'mirror'>(1, 1.3, 1.5, 1.9, 4, 'mirror'),
  semi: fc.option(number(0.5, 20), { nil: undefined }),
  phase: fc.option(fc.constantFrom(...Object.values(PHASE_SAMPLES), { kind: 'grating', lines: 1800 } as const), {
    nil: undefined,
    freq: 9,
  }),
  frame: fc.option(
    fc.record({
      dx: number(-3, 3),
      dy: number(-3, 3),
      dz: number(-3, 3),
      tx: number(-80, 80),
      ty: number(-80, 80),
      tz: number(-180, 180),
      axis: fc.constantFrom('return', 'carry'),
    }),
    { nil: undefined },
  ),
});

function lensOf(surfaces: readonly (Omit<Quick, 'r' | 'k'> & { shape: Shape })[]): LensModel {
  const project = quickProject(surfaces.map(({ shape: _shape, ...rest }) => JSON.parse(JSON.stringify(rest)) as Quick));
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
    for (const status of [RAY_STATUS.missed, RAY_STATUS.clipped, RAY_STATUS.totalReflection, RAY_STATUS.noOrder])
      expect(ends.get(status)! / total).to.be.above(0.001);
  });
});

/** The same lens for light that comes back: surfaces in the opposite order, each way between them taken backwards. */
function reversed(model: LensModel): LensModel {
  const count = model.surfaces.length - 1; // without the image
  const motion = (j: number): Rigid => {
    const { entry } = model.surfaces[j];
    return inverse(entry ?? shifted(0, 0, -model.surfaces[j - 1].gap));
  };
  const order = Array.from({ length: count }, (_, k) => count - 1 - k);
  return {
    ...model,
    surfaces: order.map((j, k) => ({ ...model.surfaces[j], entry: k === 0 ? AT_REST : motion(j + 1) })),
    indices: model.indices.map((list) => Float64Array.from(list.slice(0, count + 1)).reverse()),
  };
}

describe('light that comes back', () => {
  const gentle = fc.record({
    shape: shapeTimes(number(0.6, 1.6)),
    t: number(0.5, 10),
    n: fc.constantFrom<number | 'mirror'>(1, 1.3, 1.5, 1.9),
    frame: fc.option(fc.record({ dx: number(-1, 1), dy: number(-1, 1), tx: number(-8, 8), ty: number(-8, 8) }), {
      nil: undefined,
    }),
  });
  const COUNT = 200;
  const STATE = ['x', 'y', 'l', 'm'] as const;

  /** Traces back from behind the last surface; the start in the frame of the first surface, or null. */
  function back(lens: LensModel, end: Record<'x' | 'y' | 'z' | 'l' | 'm' | 'n', number>): RayBlock | null {
    const block = rayBlock(1);
    for (const key of ['x', 'y', 'z'] as const) block[key][0] = end[key];
    for (const key of ['l', 'm', 'n'] as const) block[key][0] = -end[key];
    traceBlock(lens, block, 1, 0, { clip: false, kernel: null });
    return block.status[0] === RAY_STATUS.alive ? block : null;
  }

  it('goes the way it came, within rounding times the condition of that way', function () {
    this.timeout(60_000);
    let [tried, leftOut] = [0, 0];
    fc.assert(
      fc.property(fc.array(gentle, { minLength: 1, maxLength: 5 }), (surfaces) => {
        const model = lensOf(surfaces as never);
        const lens = reversed(model);
        const block = rays(1 + surfaces.length);
        // Within 5 mm of the axis, where the samples' polynomials do not wind: a wound surface is met more than once.
        for (let i = 0; i < COUNT; i++) [block.x[i], block.y[i]] = [block.x[i] / 4, block.y[i] / 4];
        const last = model.surfaces.length - 1;
        const grazing = new Uint8Array(RAYS);
        const first = rayBlock(RAYS);
        traceBlock(model, block, COUNT, 0, {
          clip: false,
          kernel: null,
          until: last,
          visit(j, part, from, size) {
            for (let i = 0; i < size; i++) {
              const cosine = part.l[i] * part.nx[i] + part.m[i] * part.ny[i] + part.n[i] * part.nz[i];
              if (Math.abs(cosine) < Math.cos((89 * Math.PI) / 180)) grazing[from + i] = 1;
              if (j === 0) for (const key of ['x', 'y', 'z'] as const) first[key][from + i] = part[key][i];
            }
          },
        });
        for (let i = 0; i < COUNT; i++) {
          if (i % 10 === 0 || block.status[i] !== RAY_STATUS.alive) continue;
          tried++;
          const end = {
            x: block.x[i],
            y: block.y[i],
            z: block.z[i],
            l: block.l[i],
            m: block.m[i],
            n: block.n[i],
          };
          const start = grazing[i] ? null : back(lens, end);
          if (!start) {
            leftOut++;
            continue;
          }
          const STEP = 1e-7;
          let condition = 1;
          for (const key of STATE) {
            const beside = back(lens, { ...end, [key]: end[key] + STEP });
            if (beside)
              condition = Math.max(condition, Math.hypot(beside.x[0] - start.x[0], beside.y[0] - start.y[0]) / STEP);
          }
          for (const key of ['x', 'y', 'z'] as const)
            if (!(Math.abs(start[key][0] - first[key][i]) <= 1e-9 * condition))
              throw new Error(`${key} of ray ${i} is off by ${start[key][0] - first[key][i]}, condition ${condition}`);
        }
      }),
      { seed: 78, numRuns: 300 },
    );
    expect(tried).to.be.above(10_000);
    console.log(
      `      ${tried} rays came back, ${leftOut} (${((100 * leftOut) / tried).toFixed(2)} %) were left out as grazing`,
    );
    expect(leftOut / tried).to.be.below(0.1);
  });
});
