/** Laws of scatter by their records, and aiming by them: see `finishes/laws` and `ScatterAims`. */
import {
  AIM_RADIUS, AIM_SIZE, AIM_X, AIM_Y, AIM_Z, SCATTER_FIRST, SCATTER_KEPT, SCATTER_KIND, SCATTER_NUMBER, SCATTER_RADII,
  SCATTER_SECOND, SCATTER_THIRD, SCATTER_TOTALS, SPREAD_ABG, SPREAD_CONE, SPREAD_EVEN, SPREAD_FOREIGN, SPREAD_GAUSSIAN,
  SPREAD_SHOULDER,
} from '../../src/scene/kernel-layout.ts';
import {
  across, acrossU, acrossV, coneAbout, drawBeside, drawCone, drawEven, drawToward, gaussianRadius, lift, setDirection,
  toL, toM, toN,
} from '../../src/physics/directions.ts';
import {
  abgBsdf, coneDensity, distanceOf, evenDensity, gaussianDensity, grazingPlace, lobeDensity, shoulderBsdf,
} from '../../src/physics/scatter-laws.ts';
import { between } from '../../src/physics/tables.ts';
import { DRAWS, KEY_A, KEY_B } from './block';
import { uniform } from './random';
import { aimCount, aims, densityForeign, drawForeign, RETURNED, spreadForeign } from './state';

/** Steps of the tables of lobes and of draws above a face: see `RadialLobe` and `KeptShare`. */
const INCIDENCES: i32 = 64;
const RADII: i32 = 2048;
const KEPT: i32 = 128;
/** How often a direction below the face is drawn anew before the specular one is taken. */
const TRIES: i32 = 64;

/** A value of a table of equal steps, `at` counted in steps. */
// @ts-ignore: decorator
@inline
function read(table: usize, at: f64, steps: i32): f64 {
  const i = min(steps - 1, i32(Math.floor(at)));
  const place = table + 8 * usize(i);
  return between(load<f64>(place), load<f64>(place, 8), at - f64(i));
}

/** Total scatter of a lobe. */
// @ts-ignore: decorator
@inline
function total(law: usize, sine: f64): f64 {
  return read(usize(load<u32>(law, SCATTER_TOTALS)), Math.min(1, Math.max(0, sine)) * f64(INCIDENCES), INCIDENCES);
}

/** Share of the light sent on that is scattered. */
export function scatteredShare(law: usize, sine: f64): f64 {
  const kind = load<i32>(law, SCATTER_KIND);
  if (kind == SPREAD_FOREIGN) return Math.min(1, spreadForeign(load<i32>(law, SCATTER_NUMBER), sine));
  if (kind <= SPREAD_CONE) return load<f64>(law, SCATTER_FIRST);
  return Math.min(1, total(law, sine));
}

/** Draws a direction in the frame of the face about the specular one. */
export function drawScattered(law: usize, ray: usize, sx: f64, sy: f64): void {
  const kind = load<i32>(law, SCATTER_KIND);
  if (kind == SPREAD_EVEN) {
    const u = uniform(ray);
    drawEven(u, uniform(ray));
    return;
  }
  if (kind == SPREAD_FOREIGN) {
    drawForeign(load<i32>(law, SCATTER_NUMBER), sx, sy, load<u32>(ray, KEY_A), load<u32>(ray, KEY_B), load<u32>(ray, DRAWS));
    store<u32>(ray, u32(load<f64>(RETURNED, 24)), DRAWS);
    setDirection(load<f64>(RETURNED), load<f64>(RETURNED, 8), load<f64>(RETURNED, 16));
    return;
  }
  const width = load<f64>(law, SCATTER_SECOND);
  const radii: usize = load<u32>(law, SCATTER_RADII);
  for (let attempt = 0; attempt < TRIES; attempt++) {
    const u = uniform(ray);
    const v = uniform(ray);
    if (kind == SPREAD_CONE) {
      if (drawCone(width, sx, sy, u, v)) return;
    } else {
      const radius = kind == SPREAD_GAUSSIAN ? gaussianRadius(width, u) : Math.sqrt(read(radii, u * f64(RADII), RADII));
      if (drawBeside(sx, sy, radius, v)) return;
    }
  }
  lift(sx, sy);
}

/** Probability of a direction per steradian, given that light is scattered. */
function density(law: usize, sx: f64, sy: f64, ox: f64, oy: f64): f64 {
  const kind = load<i32>(law, SCATTER_KIND);
  if (kind == SPREAD_EVEN) return evenDensity(ox, oy);
  const sine = Math.sqrt(sx * sx + sy * sy);
  if (kind == SPREAD_GAUSSIAN || kind == SPREAD_CONE) {
    const width = load<f64>(law, SCATTER_SECOND);
    const kept = read(usize(load<u32>(law, SCATTER_KEPT)), grazingPlace(sine, f64(KEPT)), KEPT);
    return kind == SPREAD_CONE ? coneDensity(width, sx, sy, ox, oy, kept) : gaussianDensity(width, sx, sy, ox, oy, kept);
  }
  if (kind != SPREAD_ABG && kind != SPREAD_SHOULDER) return densityForeign(load<i32>(law, SCATTER_NUMBER), sx, sy, ox, oy);
  const a = load<f64>(law, SCATTER_FIRST);
  const b = load<f64>(law, SCATTER_SECOND);
  const c = load<f64>(law, SCATTER_THIRD);
  const rho = distanceOf(sx, sy, ox, oy);
  return lobeDensity(kind == SPREAD_ABG ? abgBsdf(a, b, c, rho) : shoulderBsdf(a, b, c, rho), ox, oy, total(law, sine));
}

/**
 * What a ray in the direction found last carries of the scattered flux, whoever drew it: 1 outside of the cones of all aims. From x, y, z, with
 * the normal zx, zy, zz on the side light goes to; sl, sm, sn is where it would go from a smooth face.
 */
export function aimedShare(law: usize, x: f64, y: f64, z: f64, zx: f64, zy: f64, zz: f64, sl: f64, sm: f64, sn: f64): f64 {
  let aimed: f64 = 0;
  for (let j = 0; j < aimCount; j++) {
    const ball = aims + usize(j) * AIM_SIZE;
    const cone = coneAbout(
      load<f64>(ball, AIM_X) - x, load<f64>(ball, AIM_Y) - y, load<f64>(ball, AIM_Z) - z, load<f64>(ball, AIM_RADIUS), toL, toM, toN,
    );
    if (cone > 0) aimed += 1 / cone;
  }
  if (aimed == 0) return 1;
  across(zx, zy, zz, sl, sm, sn);
  const su = acrossU;
  const sv = acrossV;
  across(zx, zy, zz, toL, toM, toN);
  const p = density(law, su, sv, acrossU, acrossV);
  return p / (p + aimed);
}

/** Draws a direction toward aim j; its flux over all that is scattered, 0 for none. */
export function drawAimed(j: i32, law: usize, ray: usize, x: f64, y: f64, z: f64, zx: f64, zy: f64, zz: f64, sl: f64, sm: f64, sn: f64): f64 {
  const ball = aims + usize(j) * AIM_SIZE;
  const u = uniform(ray);
  const v = uniform(ray);
  const solid = drawToward(
    load<f64>(ball, AIM_X) - x, load<f64>(ball, AIM_Y) - y, load<f64>(ball, AIM_Z) - z, load<f64>(ball, AIM_RADIUS), u, v,
  );
  if (solid == 0 || !(toL * zx + toM * zy + toN * zz > 0)) return 0;
  const share = aimedShare(law, x, y, z, zx, zy, zz, sl, sm, sn);
  return share < 1 ? share : 0; // on the very rim of its cone rounding may put it outside
}
