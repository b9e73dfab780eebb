import { fourierSquare } from '../../compute/fourier.ts';
import { RAY_STATUS } from '../../compute/ray-block.ts';
import { fitColumns } from '../../math/linear-fit.ts';
import { failure, success, type Outcome } from '../../math/outcome.ts';
import type { FieldPoint } from '../../project/model.ts';
import type { Detail } from '../wavefront/diffraction-pupil.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import { isAfocal } from '../evaluation/image-space.ts';
import { chiefAtImage } from '../field/image-point.ts';
import type { PictureTarget } from './picture-targets.ts';
import { spreadInCells, type Blurs } from './picture-spread.ts';
import { relativeIllumination } from '../field/relative-illumination.ts';

export interface PictureChoice {
  /** The field in the middle; null for the whole square whose corners are the largest field. */
  readonly field: FieldPoint | null;
  /** Side of the picture around one field, mm in the image. */
  readonly width: number;
  /** Cells on a side, a power of two. */
  readonly cells: number;
  /** Places along a side at which the image of a point is computed; between them pictures blend. */
  readonly places: number;
  /** `automatic`: by diffraction where the wavefront allows it, else by rays. */
  readonly blur: 'automatic' | 'rays' | 'none';
  readonly pupil: 'full' | 'clipped';
  readonly detail: Detail;
  /** Indices of the wavelengths to use. */
  readonly waves: readonly number[];
}

/** The irradiance that a lens makes of a target: light per colour channel, 1 for white on the axis; row by row, y rising. */
export interface Picture {
  readonly cells: number;
  /** mm in the image surface: of the middle, and half a side. */
  readonly centre: readonly [number, number];
  readonly half: number;
  /** Red, green, blue of each cell. */
  readonly rgb: Float64Array;
  /** Largest error of the polynomials that tell where a point is imaged, in cells. */
  readonly residual: number;
  /** How the images of points were found, and how many of each. */
  readonly blurs: Readonly<Blurs>;
}

const DEGREE = 7;
/** Chief rays along a side that the geometry is fitted to. */
const NODES = 13;
/** How far beyond a picture around one field its light may come from, and the geometry is known, in its half side. */
const MARGIN = 1.5;
/** Subdivisions of a cell along which the target is looked at. */
const FINE = 3;
const radians = Math.PI / 180;

/** Where a wavelength counts in red, green and blue: between 465, 545 and 610 nm by straight lines. */
export function channelShares(nm: number): readonly [number, number, number] {
  const between = (from: number, to: number) => Math.min(1, Math.max(0, (nm - from) / (to - from)));
  const [blueToGreen, greenToRed] = [between(465, 545), between(545, 610)];
  return [greenToRed, blueToGreen - greenToRed, 1 - blueToGreen];
}

/**
 * What a lens makes of a target: every point of it is imaged where the chief ray of its colour goes, as bright as its pencil is wide, and
 * spread as its own point spread function says. The spread is computed at some places of the picture and blended between them in the object,
 * Σ K_p ∗ (w_p S), so that no light is lost (J. G. Nagy and D. P. O'Leary, SIAM J. Sci. Comput. 19, 1063, 1998). Yields between places.
 *
 * Fails for images at infinity, where no chief ray arrives, and where the field has no width.
 */
export function* simulatePicture(
  lens: LensEvaluation,
  target: PictureTarget,
  choice: PictureChoice,
): Generator<void, Outcome<Picture>, void> {
  const { model } = lens;
  if (isAfocal(model.lens))
    return failure('The image lies at infinity: there is no surface that a picture could lie on.');
  const plane = objectPlane(lens, choice);
  if (!plane.ok) return plane;
  const { centre, half, fieldAt } = plane.value;
  const { cells } = choice;
  const weights = choice.waves.map((wave) => model.wavelengths[wave].weight || 1);
  const shares = choice.waves.map((wave) => channelShares(model.wavelengths[wave].nm));
  const sums = [0, 1, 2].map((channel) => shares.reduce((sum, share, k) => sum + weights[k] * share[channel], 0));
  const rgb = new Float64Array(3 * cells * cells);
  // Light from beyond the picture is spread into it; beyond the whole field there is none.
  const margin = choice.field ? MARGIN : 1;
  const wide = Math.round(cells * margin);
  const rim = (wide - cells) >> 1;
  const blurs: Blurs = { diffraction: 0, rays: 0, none: 0, lost: 0 };
  let residual = 0;
  const bright = illuminationAt(lens, choice, fieldAt);
  for (const [k, wave] of choice.waves.entries()) {
    const geometry = inverseMap(lens, wave, fieldAt, centre, half * margin, wide, margin);
    if (!geometry.ok) return geometry;
    residual = Math.max(residual, geometry.value.residual);
    // A channel that no colour falls into takes all of them, as a grey sensor does.
    const seen = [0, 1, 2].map((channel) => (sums[channel] > 0 ? shares[k][channel] : 1));
    const scene = sceneOf(target, geometry.value, wide, seen, choice.waves.length > 1, choice.field === null);
    yield;
    const blurred = yield* blurredScene(lens, wave, scene, geometry.value, {
      ...choice,
      cells: wide,
      rim,
      pitch: (2 * half) / cells,
      fieldAt,
      bright,
      blurs,
    });
    for (let channel = 0; channel < 3; channel++) {
      const total = sums[channel] > 0 ? sums[channel] : weights.reduce((a, b) => a + b, 0);
      const share = (weights[k] * seen[channel]) / total;
      if (share === 0) continue;
      for (let row = 0, i = channel; row < cells; row++)
        for (let column = 0; column < cells; column++, i += 3)
          rgb[i] += share * blurred[(row + rim) * wide + column + rim];
    }
  }
  return success({ cells, centre, half, rgb, residual, blurs });
}

/** From a place of the target (u, v; 1 at the side of the picture) to a field. */
type FieldAt = (u: number, v: number) => FieldPoint;

/** The square of the object that fills the picture, and the square of the image that it fills. */
function objectPlane(
  lens: LensEvaluation,
  { field, width }: PictureChoice,
): Outcome<{ centre: readonly [number, number]; half: number; fieldAt: FieldAt }> {
  const { points, kind } = lens.model.lens.fields;
  const angles = kind === 'angle';
  const toPlane = (value: number) => (angles ? Math.tan(value * radians) : value);
  const toField = (value: number) => (angles ? Math.atan(value) / radians : value);
  const at = (x: number, y: number): FieldPoint => ({ id: `at_${x}_${y}`, x: toField(x), y: toField(y), weight: 1 });
  const primary = (point: FieldPoint) => {
    const chief = chiefAtImage(lens, point);
    return chief.ok ? success([chief.value.x[0], chief.value.y[0]] as const) : chief;
  };
  if (field === null) {
    const most = Math.max(0, ...points.map(({ x, y }) => Math.hypot(toPlane(x), toPlane(y)))) / Math.SQRT2;
    if (most === 0) return failure('There is no field beside the axis: add one in the Brief, or choose one field.');
    const fieldAt: FieldAt = (u, v) => at(u * most, v * most);
    const sides = [
      [1, 0],
      [0, 1],
      [1, 1],
    ].map(([u, v]) => primary(fieldAt(u, v)));
    let half = 0;
    for (const side of sides) {
      if (!side.ok) return side;
      half = Math.max(half, Math.abs(side.value[0]), Math.abs(side.value[1]));
    }
    return success({ centre: [0, 0], half, fieldAt });
  }
  const [x0, y0] = [toPlane(field.x), toPlane(field.y)];
  const middle = primary(field);
  if (!middle.ok) return middle;
  const scale = Math.max(
    1e-3,
    Math.abs(x0),
    Math.abs(y0),
    ...points.map(({ x, y }) => Math.hypot(toPlane(x), toPlane(y))),
  );
  const step = 1e-4 * scale;
  const [right, up] = [primary(at(x0 + step, y0)), primary(at(x0, y0 + step))];
  if (!right.ok) return right;
  if (!up.ok) return up;
  const [cx, cy] = middle.value;
  // The mean magnification at the field, so that the target has its own proportions and the picture its distortion.
  const det = ((right.value[0] - cx) * (up.value[1] - cy) - (right.value[1] - cy) * (up.value[0] - cx)) / step ** 2;
  if (!(Math.abs(det) > 0)) return failure('At this field the image has no width.', field.id);
  const size = width / 2 / Math.sqrt(Math.abs(det));
  return success({ centre: [cx, cy], half: width / 2, fieldAt: (u, v) => at(x0 + u * size, y0 + v * size) });
}

interface Geometry {
  /** u and v at the corners of the cells, (cells + 1)² of each. */
  readonly u: Float64Array;
  readonly v: Float64Array;
  readonly residual: number;
}

/** Which place of the target each corner of a cell sees along chief rays of a colour: polynomials through the inverse of what rays say. */
function inverseMap(
  lens: LensEvaluation,
  wave: number,
  fieldAt: FieldAt,
  [cx, cy]: readonly [number, number],
  half: number,
  cells: number,
  margin: number,
): Outcome<Geometry> {
  const rows: Float64Array[] = [];
  const [us, vs]: [number[], number[]] = [[], []];
  let reason = failure('No chief ray of the picture arrives.') as Outcome<never>;
  for (let i = 0; i < NODES; i++)
    for (let j = 0; j < NODES; j++) {
      // Closer together toward the rim, where polynomials are at their worst.
      const [u, v] = [i, j].map((k) => -1.02 * margin * Math.cos((Math.PI * (k + 0.5)) / NODES));
      const chief = lens.chief(fieldAt(u, v), wave);
      if (!chief.ok) {
        reason = chief;
        continue;
      }
      if (chief.value.status[0] !== RAY_STATUS.alive) continue;
      rows.push(powers((chief.value.x[0] - cx) / half, (chief.value.y[0] - cy) / half));
      us.push(u);
      vs.push(v);
    }
  const fits = fitColumns(rows, [us, vs]);
  if (!fits) return reason;
  const [fu, fv] = fits;
  let residual = 0;
  const valueOf = (fit: Float64Array, row: Float64Array) => row.reduce((sum, value, k) => sum + value * fit[k], 0);
  rows.forEach(
    (row, k) => (residual = Math.max(residual, Math.abs(valueOf(fu, row) - us[k]), Math.abs(valueOf(fv, row) - vs[k]))),
  );
  return success({ u: surfaceOf(fu, cells), v: surfaceOf(fv, cells), residual: (residual * cells) / (2 * margin) });
}

/** A fitted polynomial at the corners of the cells. */
function surfaceOf(fit: Float64Array, cells: number): Float64Array {
  const side = cells + 1;
  const along = Array.from({ length: side }, (_, k) => chebyshev((2 * k) / cells - 1));
  const values = new Float64Array(side * side);
  const row = new Float64Array(DEGREE + 1);
  for (let r = 0; r < side; r++) {
    row.fill(0);
    for (let i = 0, at = 0; i <= DEGREE; i++) for (let j = 0; i + j <= DEGREE; j++) row[i] += fit[at++] * along[r][j];
    for (let c = 0; c < side; c++) {
      const t = along[c];
      let sum = 0;
      for (let i = 0; i <= DEGREE; i++) sum += row[i] * t[i];
      values[r * side + c] = sum;
    }
  }
  return values;
}

/** Chebyshev polynomials in x and y up to a degree in all, which stay independent over a square. */
function powers(x: number, y: number): Float64Array {
  const [tx, ty] = [chebyshev(x), chebyshev(y)];
  const terms = new Float64Array(((DEGREE + 1) * (DEGREE + 2)) / 2);
  let at = 0;
  for (let i = 0; i <= DEGREE; i++) for (let j = 0; i + j <= DEGREE; j++) terms[at++] = tx[i] * ty[j];
  return terms;
}

function chebyshev(x: number): Float64Array {
  const t = new Float64Array(DEGREE + 1);
  t[0] = 1;
  t[1] = x;
  for (let k = 2; k <= DEGREE; k++) t[k] = 2 * x * t[k - 1] - t[k - 2];
  return t;
}

/** What of the target falls into each cell of a sharp image, seen in one colour. */
function sceneOf(
  target: PictureTarget,
  { u, v }: Geometry,
  cells: number,
  seen: readonly number[],
  coloured: boolean,
  ends: boolean,
): Float64Array {
  const scene = new Float64Array(cells * cells);
  const rgb = new Float64Array(3);
  const whole = seen[0] + seen[1] + seen[2];
  const mix = coloured && whole > 0 ? seen.map((share) => share / whole) : [1 / 3, 1 / 3, 1 / 3];
  const side = cells + 1;
  for (let row = 0, at = 0; row < cells; row++)
    for (let column = 0; column < cells; column++, at++) {
      const corner = row * side + column;
      if (ends && (Math.abs(u[corner]) > 1 || Math.abs(v[corner]) > 1)) continue;
      let sum = 0;
      const [u0, u1, u2, u3] = [u[corner], u[corner + 1], u[corner + side], u[corner + side + 1]];
      const [v0, v1, v2, v3] = [v[corner], v[corner + 1], v[corner + side], v[corner + side + 1]];
      for (let q = 0; q < FINE; q++)
        for (let p = 0; p < FINE; p++) {
          const s = (p + 0.5) / FINE;
          const t = (q + 0.5) / FINE;
          target(
            (1 - t) * ((1 - s) * u0 + s * u1) + t * ((1 - s) * u2 + s * u3),
            (1 - t) * ((1 - s) * v0 + s * v1) + t * ((1 - s) * v2 + s * v3),
            rgb,
          );
          sum += mix[0] * rgb[0] + mix[1] * rgb[1] + mix[2] * rgb[2];
        }
      scene[at] = sum / (FINE * FINE);
    }
  return scene;
}

/** Relative illumination at a place of the target; what set apertures let through where they clip. */
function illuminationAt(
  lens: LensEvaluation,
  { pupil, blur }: PictureChoice,
  fieldAt: FieldAt,
): (u: number, v: number) => number {
  const known = new Map<string, number>();
  return (u, v) => {
    if (blur === 'none') return 1;
    const key = `${u} ${v}`;
    const found = known.get(key);
    if (found !== undefined) return found;
    const value = relativeIllumination(lens, fieldAt(u, v), pupil, undefined, 48);
    known.set(key, value.ok ? value.value : 0);
    return value.ok ? value.value : 0;
  };
}

interface Blurring extends PictureChoice {
  /** Cells of the scene beyond the picture at each side, and the side of a cell, mm. */
  readonly rim: number;
  readonly pitch: number;
  readonly fieldAt: FieldAt;
  readonly bright: (u: number, v: number) => number;
  readonly blurs: Blurs;
}

function* blurredScene(
  lens: LensEvaluation,
  wave: number,
  scene: Float64Array,
  { u, v }: Geometry,
  choice: Blurring,
): Generator<void, Float64Array, void> {
  const { cells, places, rim, fieldAt, bright } = choice;
  if (choice.blur === 'none') {
    choice.blurs.none++;
    return scene;
  }
  // Cells around it: what leaves the picture at one side must not come in at the other.
  const n = 2 ** Math.ceil(Math.log2(1.25 * cells));
  const most = Math.min(n / 2, n - cells + rim);
  const [re, im] = [new Float64Array(n * n), new Float64Array(n * n)];
  const place = (k: number) => (places === 1 ? 0 : -1 + (2 * k) / (places - 1));
  // Where cells lie among the places, 0 to their number less 1; beyond the outermost, these count alone.
  const [among, upward] = [amongPlaces(u, cells, places), amongPlaces(v, cells, places)];
  for (let i = 0; i < places; i++)
    for (let j = 0; j < places; j++) {
      const [pu, pv] = [place(i), place(j)];
      const kernel = spreadInCells(lens, fieldAt(pu, pv), wave, choice, n, most);
      yield;
      if (!kernel) continue;
      const light = bright(pu, pv);
      const square = fourierSquare(n);
      square.re.fill(0);
      square.im.fill(0);
      for (let row = 0, at = 0; row < cells; row++)
        for (let column = 0; column < cells; column++, at++) {
          const [across, up] = [1 - Math.abs(among[at] - i), 1 - Math.abs(upward[at] - j)];
          if (across > 0 && up > 0) square.re[row * n + column] = light * across * up * scene[at];
        }
      square.im.set(kernel);
      square.transform();
      const { re: fr, im: fi } = square;
      // Both are real: one transform holds the two, S(k) + iK(k), told apart by their symmetry.
      for (let row = 0; row < n; row++)
        for (let column = 0; column < n; column++) {
          const at = row * n + column;
          const back = ((n - row) & (n - 1)) * n + ((n - column) & (n - 1));
          const sr = fr[at] + fr[back];
          const si = fi[at] - fi[back];
          const kr = fi[at] + fi[back];
          const ki = fr[back] - fr[at];
          re[at] += (sr * kr - si * ki) / 4;
          im[at] += (sr * ki + si * kr) / 4;
        }
      yield;
    }
  // Back by the transform of the conjugate.
  const square = fourierSquare(n);
  square.re.set(re);
  for (let at = 0; at < n * n; at++) square.im[at] = -im[at];
  square.transform();
  const picture = new Float64Array(cells * cells);
  for (let row = 0; row < cells; row++)
    for (let column = 0; column < cells; column++)
      picture[row * cells + column] = Math.max(0, square.re[row * n + column] / (n * n));
  return picture;
}

/** Where the middle of each cell lies among places that are spread evenly from −1 to 1. */
function amongPlaces(corners: Float64Array, cells: number, places: number): Float64Array {
  const found = new Float64Array(cells * cells);
  const side = cells + 1;
  for (let row = 0, at = 0; row < cells; row++)
    for (let column = 0; column < cells; column++, at++) {
      const corner = row * side + column;
      const middle = (corners[corner] + corners[corner + 1] + corners[corner + side] + corners[corner + side + 1]) / 4;
      found[at] = ((Math.max(-1, Math.min(1, middle)) + 1) / 2) * (places - 1);
    }
  return found;
}
