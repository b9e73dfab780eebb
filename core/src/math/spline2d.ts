/**
 * A cubic B-spline through equally spaced values in one direction: coefficients c₋₁ … cₙ with (cᵢ₋₁ + 4cᵢ + cᵢ₊₁)/6 = fᵢ, and no third
 * derivative jumping at the second knot from either end (C. de Boor, A Practical Guide to Splines, ch. IV): for equal steps that gives
 * c₁ = f₁ − (f₀ − 2f₁ + f₂)/6 at once, and likewise at the other end.
 */
function coefficients(f: (i: number) => number, count: number, put: (i: number, c: number) => void): void {
  const c = new Float64Array(count);
  const near = (i: number) => f(i) - (f(i - 1) - 2 * f(i) + f(i + 1)) / 6;
  c[1] = near(1);
  c[count - 2] = near(count - 2);
  // Thomas's algorithm for the inner ones.
  const ratio = new Float64Array(count);
  for (let i = 2; i < count - 2; i++) {
    const below = i === 2 ? 0 : ratio[i - 1];
    const given = 6 * f(i) - (i === 2 ? c[1] : 0) - (i === count - 3 ? c[count - 2] : 0);
    const pivot = 4 - below;
    ratio[i] = 1 / pivot;
    c[i] = (given - (i === 2 ? 0 : c[i - 1])) / pivot;
  }
  for (let i = count - 4; i >= 2; i--) c[i] -= ratio[i] * c[i + 1];
  c[0] = 6 * f(1) - 4 * c[1] - c[2];
  c[count - 1] = 6 * f(count - 2) - 4 * c[count - 2] - c[count - 3];
  put(-1, 6 * f(0) - 4 * c[0] - c[1]);
  for (let i = 0; i < count; i++) put(i, c[i]);
  put(count, 6 * f(count - 1) - 4 * c[count - 1] - c[count - 2]);
}

/** Equally spaced values over x and y. */
export interface Grid {
  /** Place of the first value, and steps, mm. */
  readonly x: number;
  readonly y: number;
  readonly dx: number;
  readonly dy: number;
  /** Values in a row along x. */
  readonly columns: number;
  /** Row by row, x fastest, from the smallest x and y. */
  readonly z: readonly number[];
}

/** Fewest values in a direction that a cubic can be drawn through. */
export const LEAST_VALUES = 4;

/**
 * The bicubic spline through a grid, twice continuously differentiable: a function that writes f, f_x, f_y, f_xx, f_xy, f_yy at a place
 * into `out`, NaN outside the grid.
 *
 * @throws RangeError for a grid of less than 4 × 4 values or with steps that are not above 0
 */
export function splineOver({
  x: x0,
  y: y0,
  dx,
  dy,
  columns,
  z,
}: Grid): (x: number, y: number, out: Float64Array) => void {
  const rows = z.length / columns;
  if (!(columns >= LEAST_VALUES && rows >= LEAST_VALUES && Number.isInteger(rows) && dx > 0 && dy > 0))
    throw new RangeError('splineOver: the grid has too few values, or steps that are not above 0');
  const width = columns + 2;
  const along = new Float64Array(width * rows);
  for (let row = 0; row < rows; row++)
    coefficients(
      (i) => z[row * columns + i],
      columns,
      (i, c) => (along[row * width + i + 1] = c),
    );
  const whole = new Float64Array(width * (rows + 2));
  for (let column = 0; column < width; column++)
    coefficients(
      (i) => along[i * width + column],
      rows,
      (i, c) => (whole[(i + 1) * width + column] = c),
    );
  const bx = new Float64Array(12);
  const by = new Float64Array(12);
  return (x, y, out) => {
    const u = (x - x0) / dx;
    const v = (y - y0) / dy;
    if (!(u >= 0 && u <= columns - 1 && v >= 0 && v <= rows - 1)) {
      out.fill(NaN);
      return;
    }
    const i = Math.min(Math.floor(u), columns - 2);
    const j = Math.min(Math.floor(v), rows - 2);
    basis(u - i, dx, bx);
    basis(v - j, dy, by);
    out.fill(0);
    for (let q = 0; q < 4; q++) {
      let [f, fx, fxx] = [0, 0, 0];
      const row = (j + q) * width + i;
      for (let p = 0; p < 4; p++) {
        const c = whole[row + p];
        f += c * bx[p];
        fx += c * bx[4 + p];
        fxx += c * bx[8 + p];
      }
      out[0] += f * by[q];
      out[1] += fx * by[q];
      out[2] += f * by[4 + q];
      out[3] += fxx * by[q];
      out[4] += fx * by[4 + q];
      out[5] += f * by[8 + q];
    }
  };
}

/** The four B-splines over an interval at a share t of it, with first and second derivatives. */
function basis(t: number, step: number, out: Float64Array): void {
  const s = 1 - t;
  out[0] = (s * s * s) / 6;
  out[1] = (4 - 6 * t * t + 3 * t * t * t) / 6;
  out[2] = (4 - 6 * s * s + 3 * s * s * s) / 6;
  out[3] = (t * t * t) / 6;
  out[4] = (-s * s) / 2 / step;
  out[5] = (-4 * t + 3 * t * t) / 2 / step;
  out[6] = (4 * s - 3 * s * s) / 2 / step;
  out[7] = (t * t) / 2 / step;
  out[8] = s / (step * step);
  out[9] = (-2 + 3 * t) / (step * step);
  out[10] = (-2 + 3 * s) / (step * step);
  out[11] = t / (step * step);
}
