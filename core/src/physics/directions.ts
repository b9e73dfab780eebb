/// <reference path="./numbers.d.ts" />
/**
 * Where light goes: after a mirror, after refraction, scattered at a face, scattered in a volume, toward a ball. TypeScript and
 * AssemblyScript both compile this file, so the direction of the last call stands in variables of it.
 */

/** Direction of the last call. */
export let toL: f64 = 0;
export let toM: f64 = 0;
export let toN: f64 = 0;

/** Writes a direction that was found elsewhere. */
export function setDirection(l: f64, m: f64, n: f64): void {
  toL = l;
  toM = m;
  toN = n;
}

/**
 * Mirrors a direction.
 *
 * @param gx - unit normal on the side light goes to; y and z likewise
 * @param cosine - of direction and normal, above 0
 */
export function reflect(l: f64, m: f64, n: f64, gx: f64, gy: f64, gz: f64, cosine: f64): void {
  const twice = 2 * cosine;
  toL = l - twice * gx;
  toM = m - twice * gy;
  toN = n - twice * gz;
}

/** Refracts a direction, by Snell's law as vectors; along the face beyond the critical angle. `ratio` is n₁/n₂, the rest as in `reflect`. */
export function refract(l: f64, m: f64, n: f64, gx: f64, gy: f64, gz: f64, cosine: f64, ratio: f64): void {
  const along = Math.sqrt(Math.max(0, 1 - ratio * ratio * (1 - cosine * cosine))) - ratio * cosine;
  toL = ratio * l + along * gx;
  toM = ratio * m + along * gy;
  toN = ratio * n + along * gz;
}

/**
 * The direction with parts (u, v, along) about a unit vector taken as the third axis; the two others by T. Duff and others,
 * Building an Orthonormal Basis, Revisited (2017).
 */
export function about(x: f64, y: f64, z: f64, along: f64, u: f64, v: f64): void {
  const sign: f64 = z < 0 ? -1 : 1;
  const a = -1 / (sign + z);
  const b = x * y * a;
  toL = u * (1 + sign * x * x * a) + v * b + along * x;
  toM = u * sign * b + v * (sign + y * y * a) + along * y;
  toN = -u * sign * x - v * y + along * z;
}

/** Parts of a vector along the two axes that `about` puts across a unit vector. */
export let acrossU: f64 = 0;
export let acrossV: f64 = 0;

/** The inverse of `about`: writes the parts of (l, m, n) across the unit vector (x, y, z). */
export function across(x: f64, y: f64, z: f64, l: f64, m: f64, n: f64): void {
  const sign: f64 = z < 0 ? -1 : 1;
  const a = -1 / (sign + z);
  const b = x * y * a;
  acrossU = l * (1 + sign * x * x * a) + m * sign * b - n * sign * x;
  acrossV = l * b + m * (sign + y * y * a) - n * y;
}

/** Direction cosines x, y as a direction above a face (z along its normal); false if they are none. */
export function lift(x: f64, y: f64): bool {
  const square = x * x + y * y;
  if (!(square < 1)) return false;
  toL = x;
  toM = y;
  toN = Math.sqrt(1 - square);
  return true;
}

/** Equal radiance into the hemisphere above a face (Lambert), by two numbers between 0 and 1. */
export function drawEven(u: f64, v: f64): void {
  const sine = Math.sqrt(u);
  const turn = 2 * Math.PI * v;
  toL = sine * Math.cos(turn);
  toM = sine * Math.sin(turn);
  toN = Math.sqrt(1 - sine * sine);
}

/** A step of this length in the plane of the direction cosines, off the specular ones; false if it ends below the face. */
export function drawBeside(sx: f64, sy: f64, radius: f64, v: f64): bool {
  const turn = 2 * Math.PI * v;
  return lift(sx + radius * Math.cos(turn), sy + radius * Math.sin(turn));
}

/** Length of such a step whose square is exponentially distributed: a Gaussian spread of direction cosines. */
export function gaussianRadius(sigma: f64, u: f64): f64 {
  return sigma * Math.sqrt(-2 * Math.log(u));
}

/** Intensity ∝ cosᵐ of the angle to the specular direction; false if it falls below the face. */
export function drawCone(power: f64, sx: f64, sy: f64, u: f64, v: f64): bool {
  const cosine = Math.pow(u, 1 / (power + 1));
  const sine = Math.sqrt(1 - cosine * cosine);
  const turn = 2 * Math.PI * v;
  about(sx, sy, Math.sqrt(Math.max(0, 1 - sx * sx - sy * sy)), cosine, sine * Math.cos(turn), sine * Math.sin(turn));
  return toN > 0;
}

/** Turns a direction by an angle of this cosine, to the side that v says. */
export function drawTurned(l: f64, m: f64, n: f64, cosine: f64, v: f64): void {
  const sine = Math.sqrt(Math.max(0, 1 - cosine * cosine));
  const turn = 2 * Math.PI * v;
  about(l, m, n, cosine, sine * Math.cos(turn), sine * Math.sin(turn));
}

/**
 * Draws a direction evenly from the cone that a ball fills as seen from a point.
 *
 * @param dx - from the point to the middle of the ball; y and z likewise
 * @returns its solid angle, sr: 2π(1 − √(1 − r²/d²)); 0 where the point lies in the ball, and nothing is drawn
 */
export function drawToward(dx: f64, dy: f64, dz: f64, radius: f64, u: f64, v: f64): f64 {
  const square = dx * dx + dy * dy + dz * dz;
  const sines = (radius * radius) / square;
  if (!(sines < 1)) return 0;
  // 1 − cos without cancellation for a small ball far away.
  const depth = sines / (1 + Math.sqrt(1 - sines));
  const rise = u * depth;
  const sine = Math.sqrt(rise * (2 - rise));
  const turn = 2 * Math.PI * v;
  const scale = 1 / Math.sqrt(square);
  about(dx * scale, dy * scale, dz * scale, 1 - rise, sine * Math.cos(turn), sine * Math.sin(turn));
  return 2 * Math.PI * depth;
}

/** Solid angle of the cone that a ball fills as seen from a point, where the unit direction (l, m, n) lies in that cone; 0 elsewhere. */
export function coneAbout(dx: f64, dy: f64, dz: f64, radius: f64, l: f64, m: f64, n: f64): f64 {
  const square = dx * dx + dy * dy + dz * dz;
  const sines = (radius * radius) / square;
  const along = dx * l + dy * m + dz * n;
  if (!(sines < 1) || !(along > 0) || !(along * along > square * (1 - sines))) return 0;
  return (2 * Math.PI * sines) / (1 + Math.sqrt(1 - sines));
}
