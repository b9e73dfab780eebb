// One run of our sequential kernel on the yardstick's own lens and rays, as a process of its own. Prints one JSON line like the
// yardstick's, with the number of rays that get through, which must be the same.
import {
  compileLens,
  rayBlock,
  traceBlock,
  traceKernel,
  type Lens,
  type LensModel,
  type Material,
  type Project,
  type Surface,
} from '@ulvex/core';

type Row = readonly [
  radius: number,
  conic: number,
  thickness: number,
  index: number,
  clear: number,
  ...terms: number[],
];

/** Seven spheres, a conic and two aspheres to r¹⁰. */
const LENS: readonly Row[] = [
  [60, 0, 6, 1.6, 16],
  [200, 0, 0.5, 1, 16],
  [40, -0.5, 8, 1.62, 15, 1e-6, -2e-9, 3e-12, -1e-15],
  [150, 0, 2, 1.7, 14],
  [25, 0, 10, 1, 12],
  [-35, 0, 3, 1.7, 8.2],
  [80, 0, 8, 1.62, 14],
  [-40, 0.2, 0.5, 1, 15, 2e-6, 1e-9, -2e-12, 1e-15],
  [90, -1.2, 5, 1.6, 16],
  [-100, 0, 50, 1, 16],
];
const BLOCK = 256;

/** The lens of the yardsticks. */
export function yardstickLens(): LensModel {
  const material = (index: number): Material => ({
    id: index === 1 ? 'air' : `n${index * 100}`,
    label: String(index),
    family: index === 1 ? 'gas' : 'constant index',
    dispersion: { kind: 'constant', index },
    range: [1, 1e6],
  });
  const surfaces: Surface[] = LENS.map(([radius, conic, thickness, index, semi, a4, a6, a8, a10], i) => ({
    id: `s${i + 1}`,
    shape:
      a4 !== undefined
        ? { kind: 'even_asphere', radius, conic, a4, a6: a6!, a8: a8!, a10: a10! }
        : conic === 0
          ? { kind: 'sphere', radius }
          : { kind: 'conic', radius, conic },
    aperture: { kind: 'circle', semi },
    after: { thickness, material: material(index).id },
  }));
  surfaces.push({ id: 'image', shape: { kind: 'plane' }, aperture: { kind: 'automatic' }, after: null });
  const lens: Lens = {
    id: 'lens',
    name: '',
    object: { distance: 'infinity' },
    aperture: { kind: 'entrance_pupil_diameter', value: 15 },
    pupil: { aim: 'paraxial', obscuration: 0 },
    fields: { kind: 'angle', points: [] },
    wavelengths: [{ id: 'd', nm: 587.5618, weight: 1 }],
    primary: 'd',
    stop: 's5',
    surfaces,
  };
  const materials = [...new Set([1, ...LENS.map(([, , , index]) => index)])].map(material);
  const project: Project = {
    format: 'ulvex-project',
    version: 3,
    name: '',
    notes: '',
    lenses: [lens],
    materials,
    requirements: [],
  };
  return compileLens(project, lens);
}

/** The yardstick's rays: a hashed square grid over the pupil in three field directions, one column a coordinate. */
function inputRays(count: number): { x: Float64Array; y: Float64Array; m: Float64Array; n: Float64Array } {
  const column = () => new Float64Array(count);
  const input = { x: column(), y: column(), m: column(), n: column() };
  for (let i = 0; i < count; i++) {
    const m = (i % 3) * 0.0625;
    input.m[i] = m;
    input.n[i] = Math.sqrt(1 - m * m);
    input.x[i] = ((2 * ((i * 7919) % 20011)) / 20011 - 1) * 7.5;
    input.y[i] = ((2 * ((i * 6271) % 20021)) / 20021 - 1) * 7.5 - m * 16;
  }
  return input;
}

/** Traces the first `count` rays of the yardstick and returns how many get through and how long the trace took. */
export function runSequential(count: number): { alive: number; seconds: number } {
  const model = yardstickLens();
  const input = inputRays(count);
  // As the aiming does it: rays are launched into the kernel's own memory and traced there.
  const rays = traceKernel()?.block ?? rayBlock(BLOCK);
  const options = { clip: true, until: LENS.length };
  let alive = 0;
  const started = performance.now();
  for (let from = 0; from < count; from += BLOCK) {
    const size = Math.min(BLOCK, count - from);
    for (const key of ['x', 'y', 'm', 'n'] as const) rays[key].set(input[key].subarray(from, from + size));
    rays.l.fill(0);
    rays.z.fill(0);
    rays.path.fill(0);
    rays.status.fill(0);
    traceBlock(model, rays, size, 0, options);
    for (let k = 0; k < size; k++) if (rays.status[k] === 0) alive++;
  }
  return { alive, seconds: (performance.now() - started) / 1000 };
}

if (process.argv[1]?.endsWith('sequential.ts')) {
  const count = Number(process.argv[2] ?? 1e6);
  runSequential(1_000_000); // the engine compiles what is hot, in the background
  const { alive, seconds } = runSequential(count);
  console.log(
    JSON.stringify({
      bench: 'sequential',
      rays: count,
      surfaces: 10,
      alive,
      raySurfacesPerSecond: (count * 10) / seconds,
    }),
  );
}
