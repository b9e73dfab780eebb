import { fourierSquare } from '../../compute/fourier.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';
import { OrthogonalFit } from '../../math/linear-fit.ts';
import { ZernikeBasis } from '../../math/zernike-basis.ts';
import type { FieldPoint } from '../../project/model.ts';
import { pupilPoints, type PupilPoints } from '../../sequence/pupil-sampling.ts';
import { diffractionPupil, tooManyWaves, traceSourced, type Detail } from '../wavefront/diffraction-pupil.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import { pupilGrid } from '../wavefront/pupil-grid.ts';
import { forEachArrival, fieldSpot } from './spot.ts';
import { referenceSphere, spherePlaces } from '../wavefront/reference-sphere.ts';

export interface PointSpreadChoice {
  /** `transform`: of the pupil on a grid, fast. `direct`: a sum over rays at every place, which takes any pupil and any hole in it. */
  readonly method: 'transform' | 'direct';
  readonly detail: Detail;
  /** Index of the one wavelength to use; all by their weights when left out. */
  readonly wave?: number;
  readonly pupil?: 'full' | 'clipped';
  /** The image that the same pupils would give without aberration, by their transform. */
  readonly perfect?: boolean;
}

/** The irradiance of the image of a point, over a square of the image surface about the (primary) chief ray's point. */
export interface PointSpread {
  /** Cells on a side, and the side of one in mm; the chief ray's point is the middle of cell n/2 in n/2. */
  readonly n: number;
  readonly pitch: number;
  /** Share of the light per mm², row by row, y rising. */
  readonly values: Float64Array;
  /** Largest value that the same pupils would give without aberration: their ratio is the Strehl ratio of all colours. */
  readonly perfect: number;
  /** Centroid of the rays from the chief ray's point, mm. */
  readonly centroid: readonly [number, number];
  /** Farthest ray from the chief ray's point, and their root mean square distance from it, mm. */
  readonly reach: number;
  readonly rms: number;
  /** Cells over the width of the pupil, or rays. */
  readonly sampling: number;
}

/**
 * How the square is chosen: cells of the image for λ/(2 half) of the pupil (1 just holds the frequencies of the field, 2 those of the
 * irradiance), cells on a side, and how many λ/(2 half) lie around the rays. A transform wraps round what comes to its rim, a sum does not.
 */
const SQUARES = {
  transform: {
    fineness: { draft: 2.5, full: 4 },
    least: { draft: 64, full: 256 },
    most: { draft: 256, full: 1024 },
    rim: { draft: 3, full: 8 },
    times: 2,
  },
  direct: {
    fineness: { draft: 2, full: 2.5 },
    least: { draft: 64, full: 64 },
    most: { draft: 128, full: 256 },
    rim: { draft: 6, full: 6 },
    times: 1,
  },
} as const;

/** Rays that tell how far the spot reaches. */
const FRAME_RAYS = {
  draft: { kind: 'polar', rings: 6, arms: 12 },
  full: { kind: 'polar', rings: 12, arms: 24 },
} as const;

interface Frame {
  readonly n: number;
  readonly pitch: number;
  readonly centroid: readonly [number, number];
  readonly reach: number;
  readonly rms: number;
  readonly waves: readonly { readonly wave: number; readonly weight: number }[];
}

/**
 * The point spread function of a field: |∫A exp(2πiW) exp(−2πi(ux + vy)/λ) du dv|² over coordinates (u, v) of the reference sphere,
 * each colour of its own energy, added by weight (J. W. Goodman, Introduction to Fourier Optics, ch. 6). Fails where rays are missing,
 * and where the wavefront has too many waves for the square.
 */
export function pointSpread(lens: LensEvaluation, field: FieldPoint, choice: PointSpreadChoice): Outcome<PointSpread> {
  const { method, detail, wave = 'all', pupil = 'full', perfect = false } = choice;
  return lens.shared(
    `point spread ${perfect ? 'perfect ' : ''}${method} ${detail} ${wave} ${pupil} ${field.id}`,
    () => {
      const frame = frameOf(lens, field, choice);
      if (!frame.ok) return frame;
      return (method === 'direct' && !perfect ? summed : transformed)(lens, field, choice, frame.value);
    },
  );
}

/** How large the square is, and its cells: fine enough for the widest pupil and the shortest wave, and wide enough for all rays. */
function frameOf(
  lens: LensEvaluation,
  field: FieldPoint,
  { method, detail, wave, pupil = 'full' }: PointSpreadChoice,
): Outcome<Frame> {
  const { model } = lens;
  const spot = fieldSpot(lens, field, { sampling: FRAME_RAYS[detail], pupil }, wave);
  if (!spot.ok) return spot;
  const { chief, centroid, colours } = spot.value;
  if (!chief) return failure(`The chief ray of field ${field.id} does not reach the image.`, field.id);
  let [reach, squares, total] = [0, 0, 0];
  forEachArrival(colours, ({ x, y }, i, weight) => {
    const distance = Math.hypot(x[i] - chief[0], y[i] - chief[1]);
    reach = Math.max(reach, distance);
    squares += weight * distance * distance;
    total += weight;
  });
  let limit = Infinity;
  for (const { wave: one, bundle } of colours) {
    const sphere = referenceSphere(lens, field, one, { reference: wave === undefined ? 'primary' : 'own' });
    if (!sphere.ok) return sphere;
    const { u, v } = spherePlaces(sphere.value, bundle.rays, model.indices[one][model.surfaces.length - 1]);
    let [low, high, left, right] = [Infinity, -Infinity, Infinity, -Infinity];
    for (let i = 0; i < u.length; i++) {
      if (Number.isNaN(u[i])) continue;
      [low, high] = [Math.min(low, v[i]), Math.max(high, v[i])];
      [left, right] = [Math.min(left, u[i]), Math.max(right, u[i])];
    }
    const half = Math.max(high - low, right - left) / 2;
    limit = Math.min(limit, (model.wavelengths[one].nm * 1e-6) / (2 * half));
  }
  if (!(limit > 0) || !Number.isFinite(limit))
    return failure('The bundle is parallel: it has no image at a finite distance.', field.id);
  const { fineness, least, most, rim, times } = SQUARES[method];
  const pitch = limit / fineness[detail];
  const wanted = (2 * times * (reach + rim[detail] * limit)) / pitch;
  const n = Math.max(least[detail], 2 ** Math.ceil(Math.log2(wanted)));
  if (n > most[detail])
    return failure(
      `Its spot reaches ${Math.round(reach / limit)} times as far as diffraction does: ${tooManyWaves(reach / limit).split(': ')[1]}`,
      field.id,
    );
  return success({
    n,
    pitch,
    reach,
    rms: Math.sqrt(squares / total),
    centroid: [centroid[0] - chief[0], centroid[1] - chief[1]],
    waves: colours.map(({ wave: one, share }) => ({ wave: one, weight: share })),
  });
}

function transformed(
  lens: LensEvaluation,
  field: FieldPoint,
  choice: PointSpreadChoice,
  frame: Frame,
): Outcome<PointSpread> {
  const { n, pitch, waves } = frame;
  const values = new Float64Array(n * n);
  // Cells of the pupil dim the image toward the rim of the square, by the transform of a cell: taken back.
  const raise = Float64Array.from({ length: n }, (_, k) => {
    const t = (Math.PI * (k - n / 2)) / n;
    return t === 0 ? 1 : (t / Math.sin(t)) ** 2;
  });
  let [perfect, sampling] = [0, 0];
  for (const { wave, weight } of waves) {
    const pupil = diffractionPupil(lens, field, {
      method: 'physical',
      wave,
      reference: choice.wave === undefined ? 'primary' : 'own',
      detail: choice.detail === 'draft' ? 'draft' : 'good',
      pupil: choice.pupil ?? 'full',
    });
    if (!pupil.ok) return pupil;
    const { mm } = pupil.value;
    const step = mm / (n * pitch);
    const grid = pupilGrid(pupil.value, step, choice.detail);
    sampling = Math.max(sampling, grid.columns, grid.rows);
    const square = fourierSquare(n);
    square.re.fill(0);
    square.im.fill(0);
    const [left, low] = [(n - grid.columns + 1) >> 1, (n - grid.rows + 1) >> 1];
    for (let row = 0; row < grid.rows; row++)
      for (
        let column = 0, from = row * grid.columns, to = (row + low) * n + left;
        column < grid.columns;
        column++, from++, to++
      ) {
        // A turn of half a cycle from cell to cell brings the middle of the image to the middle of the square.
        const sign = (row + column) & 1 ? -1 : 1;
        square.re[to] = sign * (choice.perfect ? Math.hypot(grid.re[from], grid.im[from]) : grid.re[from]);
        square.im[to] = choice.perfect ? 0 : sign * grid.im[from];
      }
    square.transform(low, low + grid.rows);
    const scale = (step * step) / (mm * mm * grid.energy);
    const { re, im } = square;
    for (let row = 0, at = 0; row < n; row++) {
      const share = weight * scale * raise[row];
      for (let column = 0; column < n; column++, at++)
        values[at] += share * raise[column] * (re[at] * re[at] + im[at] * im[at]);
    }
    perfect += weight * scale * grid.field ** 2;
  }
  const { centroid, reach, rms } = frame;
  return success({ n, pitch, values, perfect, centroid, reach, rms, sampling });
}

/** Degree of the polynomials that tell how rays crowd on the reference sphere. */
const CROWDING = 12;
let crowding: ZernikeBasis | undefined;

function summed(
  lens: LensEvaluation,
  field: FieldPoint,
  choice: PointSpreadChoice,
  frame: Frame,
): Outcome<PointSpread> {
  const { model } = lens;
  const { n, pitch, waves } = frame;
  const aimer = lens.aimer();
  if (!aimer.ok) return aimer;
  // Rings as closely as phases turn between the middle and the corner of the square.
  const rings = Math.max(20, Math.min(96, Math.ceil(n / SQUARES.direct.fineness[choice.detail] / 2)));
  const sampling = { kind: 'polar', rings, arms: 3 * rings } as const;
  const points = pupilPoints(sampling, model.lens.pupil.obscuration);
  const values = new Float64Array(n * n);
  let perfect = 0;
  for (const { wave, weight } of waves) {
    const sphere = referenceSphere(lens, field, wave, { reference: choice.wave === undefined ? 'primary' : 'own' });
    if (!sphere.ok) return sphere;
    const own = lens.chief(field, wave);
    if (!own.ok) return own;
    const { rays, source } = traceSourced(
      aimer.value,
      { field, wave, px: points.px, py: points.py },
      { clip: choice.pupil === 'clipped' },
    );
    const index = model.indices[wave][model.surfaces.length - 1];
    const mm = model.wavelengths[wave].nm * 1e-6;
    const places = spherePlaces(sphere.value, rays, index);
    const [start] = spherePlaces(sphere.value, own.value, index).path;
    const alive = [...points.px.keys()].filter((i) => !Number.isNaN(places.path[i]));
    const only = (column: Float64Array) => Float64Array.from(alive, (i) => column[i]);
    const crowd = crowdingOf(points, only, [places.u, places.v], source);
    if (!crowd) return failure('Too few rays arrive for the sum over them.', field.id);
    const across = { re: new Float64Array(n * alive.length), im: new Float64Array(n * alive.length) };
    const upward = { re: new Float64Array(n * alive.length), im: new Float64Array(n * alive.length) };
    const area = Math.PI * (1 - model.lens.pupil.obscuration ** 2);
    let [energy, whole] = [0, 0];
    alive.forEach((i, ray) => {
      // du dv of the ray, and the energy in it: its share of the source.
      const part = area * points.weight[i];
      const [solid, share] = crowd(points.px[i], points.py[i]).map((one) => part * one);
      const size = Math.sqrt(solid * share);
      energy += share;
      whole += size;
      const [p, q] = [(places.u[i] * pitch) / mm, (places.v[i] * pitch) / mm];
      const phase = (start - places.path[i]) / mm;
      for (let k = 0; k < n; k++) {
        const [turn, other] = [2 * Math.PI * (phase - p * (k - n / 2)), -2 * Math.PI * q * (k - n / 2)];
        const at = k * alive.length + ray;
        across.re[at] = size * Math.cos(turn);
        across.im[at] = size * Math.sin(turn);
        upward.re[at] = Math.cos(other);
        upward.im[at] = Math.sin(other);
      }
    });
    const scale = weight / (mm * mm * energy);
    addSquares(values, scale, across, upward, n, alive.length);
    perfect += scale * whole ** 2;
  }
  const { centroid, reach, rms } = frame;
  return success({ n, pitch, values, perfect, centroid, reach, rms, sampling: rings });
}

/**
 * How densely rays of a pupil lie on the reference sphere and in the source: the two Jacobians against the place in the pupil, from smooth fits.
 * Null if too few rays arrive for a fit.
 *
 * @param only - the values of a column for the rays that arrive
 */
function crowdingOf(
  points: PupilPoints,
  only: (column: Float64Array) => Float64Array,
  sphere: readonly [Float64Array, Float64Array],
  source: readonly [Float64Array, Float64Array],
): ((x: number, y: number) => [solid: number, share: number]) | null {
  const basis = (crowding ??= new ZernikeBasis(CROWDING));
  const [px, py, weight] = [points.px, points.py, points.weight].map(only);
  const fit = px.length > 0 && OrthogonalFit.over(basis.table(px, py), weight);
  if (!fit) return null;
  const [fu, fv, f1, f2] = [...sphere, ...source].map((column) => basis.sum(fit.solve(only(column))));
  const [a, b] = [new Float64Array(2), new Float64Array(2)];
  const jacobian = (first: typeof fu, second: typeof fu, x: number, y: number) => {
    first.slope(x, y, a);
    second.slope(x, y, b);
    return Math.abs(a[0] * b[1] - a[1] * b[0]);
  };
  return (x, y) => [jacobian(fu, fv, x, y), jacobian(f1, f2, x, y)];
}

interface Columns {
  readonly re: Float64Array;
  readonly im: Float64Array;
}

/** Rays whose columns stay in the cache while all places look at them. */
const CHUNK = 256;

/** Adds the squared moduli of Σ across(column) upward(row) over the rays; two rows and two columns at a time. */
function addSquares(
  values: Float64Array,
  scale: number,
  { re: ar, im: ai }: Columns,
  { re: br, im: bi }: Columns,
  n: number,
  rays: number,
): void {
  const [re, im] = [new Float64Array(n * n), new Float64Array(n * n)];
  for (let first = 0; first < rays; first += CHUNK) {
    const count = Math.min(CHUNK, rays - first);
    for (let row = 0; row < n; row += 2)
      for (let column = 0; column < n; column += 2) {
        let r00 = 0,
          r01 = 0,
          r10 = 0,
          r11 = 0,
          i00 = 0,
          i01 = 0,
          i10 = 0,
          i11 = 0;
        let [a, b] = [column * rays + first, row * rays + first];
        for (let i = 0; i < count; i++, a++, b++) {
          const ar0 = ar[a],
            ai0 = ai[a],
            ar1 = ar[a + rays],
            ai1 = ai[a + rays];
          const br0 = br[b],
            bi0 = bi[b],
            br1 = br[b + rays],
            bi1 = bi[b + rays];
          r00 += ar0 * br0 - ai0 * bi0;
          i00 += ar0 * bi0 + ai0 * br0;
          r01 += ar1 * br0 - ai1 * bi0;
          i01 += ar1 * bi0 + ai1 * br0;
          r10 += ar0 * br1 - ai0 * bi1;
          i10 += ar0 * bi1 + ai0 * br1;
          r11 += ar1 * br1 - ai1 * bi1;
          i11 += ar1 * bi1 + ai1 * br1;
        }
        const at = row * n + column;
        re[at] += r00;
        im[at] += i00;
        re[at + 1] += r01;
        im[at + 1] += i01;
        re[at + n] += r10;
        im[at + n] += i10;
        re[at + n + 1] += r11;
        im[at + n + 1] += i11;
      }
  }
  for (let at = 0; at < n * n; at++) values[at] += scale * (re[at] ** 2 + im[at] ** 2);
}
