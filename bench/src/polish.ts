// One iteration of damped least squares as the yardstick `dls` does it: 12 variables (10 curvatures, 2 thicknesses), 9 × 24 rays of fixed start,
// transverse residuals, normal equations with 10 % more on their diagonal. Derivatives exact, from the image back, or by differences. Prints one
// JSON line like it.
import { fileURLToPath } from 'node:url';
import {
  Aimer,
  BundleGradients,
  firstOrder,
  launchPupil,
  rayBlock,
  seedOf,
  traceBlock,
  type LensModel,
  type RayBlock,
  type SolverVariable,
  type TraceSurface,
} from '@ulvex/core';
import { yardstickLens } from './sequential.ts';

const RAYS = 216;
const GROUP = 24;
const RUNS = 300;

const VARIABLES: readonly SolverVariable[] = [
  ...Array.from({ length: 10 }, (_, surface) => ({ kind: 'shape', id: 'radius', surface }) as const),
  { kind: 'thickness', surface: 4 },
  { kind: 'thickness', surface: 7 },
];

/** The lens in three colours, whose glasses differ by 0.004 from the one before. */
function colours(): LensModel {
  const model = yardstickLens();
  const [base] = model.indices;
  const indices = [-0.004, 0, 0.004].map((by) => base.map((n) => (n > 1 ? n + by : n)));
  return { ...model, indices, wavelengths: [0, 1, 2].map((k) => ({ id: `w${k}`, nm: 587.5618, weight: 1 })) };
}

/** The 72 rays of a colour: 3 fields × 24. */
function launch(): RayBlock {
  const rays = rayBlock(RAYS / 3);
  for (let i = 0; i < rays.capacity; i++) {
    const [field, q] = [Math.floor(i / GROUP), i % GROUP];
    const r = 7 * Math.sqrt((Math.floor(q / 4) + 0.5) / 6);
    const angle = (((q % 4) + 0.5) * Math.PI) / 4;
    rays.x[i] = r * Math.sin(angle);
    rays.y[i] = r * Math.cos(angle) - field;
    rays.z[i] = rays.l[i] = rays.path[i] = 0;
    rays.m[i] = field * 0.0625;
    rays.n[i] = Math.sqrt(1 - rays.m[i] ** 2);
    rays.status[i] = 0;
  }
  return rays;
}

/** Residuals of one colour: x, and y from the mean of each field. */
function residuals(x: Float64Array, y: Float64Array, at: number, out: Float64Array): void {
  for (let g = 0; g < x.length; g += GROUP) {
    let mean = 0;
    for (let i = g; i < g + GROUP; i++) mean += y[i];
    mean /= GROUP;
    for (let i = g; i < g + GROUP; i++) {
      out[at + 2 * i] = x[i];
      out[at + 2 * i + 1] = y[i] - mean;
    }
  }
}

const N = VARIABLES.length;
const COLUMNS = Array.from({ length: N }, () => new Float64Array(2 * RAYS));
const RESIDUALS = new Float64Array(2 * RAYS);
const SEEDS = (() => {
  const [x, y] = [seedOf(RAYS / 3), seedOf(RAYS / 3)];
  x.x.fill(1);
  y.y.fill(1);
  return [x, y];
})();

function exactColumns(gradients: BundleGradients): void {
  const count = RAYS / 3;
  for (let wave = 0; wave < 3; wave++) {
    const bundle = gradients.traceLaunched(launch(), wave);
    residuals(bundle.rays.x, bundle.rays.y, 2 * count * wave, RESIDUALS);
    const [byX, byY] = bundle.back(SEEDS);
    for (let v = 0; v < N; v++)
      residuals(
        byX.subarray(count * v, count * v + count),
        byY.subarray(count * v, count * v + count),
        2 * count * wave,
        COLUMNS[v],
      );
  }
}

/** The lens with one variable a step further. */
function moved(model: LensModel, variable: SolverVariable, step: number): LensModel {
  const surfaces = model.surfaces.map((surface, j): TraceSurface => {
    if (j !== variable.surface) return surface;
    if (variable.kind === 'thickness') return { ...surface, gap: surface.gap + step };
    const form = surface.shape.form!;
    return { ...surface, shape: { ...surface.shape, form: { ...form, c: form.c + step } } };
  });
  return { ...model, surfaces };
}

function differenceColumns(model: LensModel): void {
  const count = RAYS / 3;
  const trace = (lens: LensModel, out: Float64Array) => {
    for (let wave = 0; wave < 3; wave++) {
      const rays = launch();
      traceBlock(lens, rays, count, wave, { clip: false });
      residuals(rays.x, rays.y, 2 * count * wave, out);
    }
  };
  trace(model, RESIDUALS);
  VARIABLES.forEach((variable, v) => {
    const step = variable.kind === 'thickness' ? 1e-6 : 1e-8;
    trace(moved(model, variable, step), COLUMNS[v]);
    for (let i = 0; i < 2 * RAYS; i++) COLUMNS[v][i] = (COLUMNS[v][i] - RESIDUALS[i]) / step;
  });
}

/** The products of columns i and i + 1 with j and j + 1, all at once: sums do not wait for each other. */
function products(i: number, j: number, a: Float64Array): void {
  const [one, other, left, right] = [COLUMNS[i], COLUMNS[i + 1], COLUMNS[j], COLUMNS[j + 1]];
  let [ol, or, tl, tr] = [0, 0, 0, 0];
  for (let q = 0; q < 2 * RAYS; q++) {
    ol += one[q] * left[q];
    or += one[q] * right[q];
    tl += other[q] * left[q];
    tr += other[q] * right[q];
  }
  a[i * N + j] = ol;
  a[i * N + j + 1] = or;
  a[i * N + N + j] = tl;
  a[i * N + N + j + 1] = tr;
}

function slope(column: Float64Array): number {
  let sum = 0;
  for (let q = 0; q < 2 * RAYS; q++) sum -= column[q] * RESIDUALS[q];
  return sum;
}

/** Normal equations, damped, by Cholesky's method; the sum of the steps. */
function solve(): number {
  const a = new Float64Array(N * N);
  const b = new Float64Array(N);
  for (let i = 0; i < N; i += 2) for (let j = 0; j <= i; j += 2) products(i, j, a);
  for (let i = 0; i < N; i++) {
    b[i] = slope(COLUMNS[i]);
    a[i * N + i] *= 1.1;
  }
  for (let i = 0; i < N; i++) {
    for (let j = 0; j <= i; j++) {
      let sum = a[i * N + j];
      for (let k = 0; k < j; k++) sum -= a[i * N + k] * a[j * N + k];
      a[i * N + j] = i === j ? Math.sqrt(sum) : sum / a[j * N + j];
    }
  }
  for (let i = 0; i < N; i++) {
    for (let k = 0; k < i; k++) b[i] -= a[i * N + k] * b[k];
    b[i] /= a[i * N + i];
  }
  for (let i = N - 1; i >= 0; i--) {
    for (let k = i + 1; k < N; k++) b[i] -= a[k * N + i] * b[k];
    b[i] /= a[i * N + i];
  }
  return b.reduce((all, value) => all + value, 0);
}

/** Median time of an iteration in ms, and the sum of its steps. */
export function runPolish(
  by: 'exact' | 'differences',
  runs: number,
): { readonly ms: number; readonly checksum: number } {
  const model = colours();
  const data = firstOrder(model, 0);
  const pupil = data.ok ? launchPupil(model, data.value) : data;
  if (!pupil.ok) throw new Error(pupil.reason);
  const aimer = new Aimer(model, pupil.value);
  const times: number[] = [];
  let checksum = 0;
  for (let run = 0; run < runs; run++) {
    const from = performance.now();
    if (by === 'exact') {
      const gradients = BundleGradients.of(aimer, VARIABLES);
      if (!gradients.ok) throw new Error(gradients.reason);
      exactColumns(gradients.value);
    } else differenceColumns(model);
    checksum = solve();
    times.push(performance.now() - from);
  }
  return { ms: times.sort((a, b) => a - b)[runs >> 1], checksum };
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  runPolish('exact', 2000); // warm, as a run of some steps is
  const exact = runPolish('exact', RUNS);
  runPolish('differences', 300);
  const differences = runPolish('differences', RUNS);
  console.log(
    JSON.stringify({
      ms: exact.ms,
      checksum: exact.checksum,
      differences: differences.ms,
      differencesChecksum: differences.checksum,
    }),
  );
}
