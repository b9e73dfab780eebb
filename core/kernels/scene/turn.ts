/** What becomes of light at a face, and on its way there, as `SceneTracer` has it. */
import {
  AIMED_CHILD, CHILD, COUNTS_ABSORBED, COUNTS_INCIDENT, COUNTS_LEAVING, DEPTH, DETECTOR_COUNTS, DETECTOR_SIZE, FACE_ABSORBED,
  FACE_DETECTOR_LIST, FACE_DETECTORS, FACE_FORM, FACE_INNER, FACE_NUMBERS, FACE_OPTICS, FACE_OUTER, FACE_SHIFT,
  FACE_SIZE, FACE_THROUGH, FINISH_BARE, FINISH_EVEN_R, FINISH_EVEN_T, FINISH_FIRST, FINISH_FIXED, FINISH_KIND,
  FINISH_METAL, FINISH_OPAQUE, FINISH_REFLECTED, FINISH_SECOND, FINISH_SIZE, FINISH_TRANSMITTED, FORM_FLAT, FORM_MESH,
  FORM_QUADRIC, MARK_AIMED, MARK_FRESH, MISHAP_LEAK, MISHAP_OPAQUE, MISHAP_OVERLAP, RAY_DRAWS, RAY_FIRST, RAY_FLUX,
  RAY_FRESH, RAY_KEY_A, RAY_L, RAY_M, RAY_N, RAY_SIZE, SCENE_LEDGER, SOLID_ABSORBED, SOLID_ASYMMETRY, SOLID_SCATTERING, SOLID_SIZE, SPREAD_EVEN, SPREAD_FOREIGN,
  SPREAD_NONE,
} from '../../src/scene/kernel-layout';
import {
  BEST, HIT, inside, innermost, pack, STACK, TRIANGLE, DEPTH_OF, DRAWS, EVENTS, FIRST, FLUX, FRESH, KEY_A, KEY_B, L,
  M, N, SOURCE, WAVE, X, Y, Z,
} from './block';
import { countAt, countFar } from './count';
import { normalOfSlot } from './mesh';
import { mixBits, uniform } from './random';
import {
  absorption, aimForeign, aims, depositForeign, detectors, drawForeign, faces, indices, keptForeign, met, mishap,
  mostEvents, normalForeign, PLACE, RETURNED, scene,
  sharesForeign, solidCount, solids, split, spreadForeign, threshold, volumes, waveCount,
} from './state';

/** Weaker than this part of the threshold no child ray is worth a draw. */
const FAINT: f64 = 1e-30;

// @ts-ignore: decorator
@inline
export function ledger(entry: i32, flux: f64): void {
  const place = scene + SCENE_LEDGER + 8 * usize(entry);
  store<f64>(place, load<f64>(place) + flux);
}
export const DETECTED = 0;
export const ABSORBED = 1;
const IN_BODIES = 2;
const ESCAPED = 3;
const CUT_OFF = 4;
const BY_LOT = 5;

/** First free place above the rays that wait. */
let top: usize = 0;

export function setTop(place: usize): void {
  top = place;
}

export function getTop(): usize {
  return top;
}

function warn(kind: i32, a: i32, b: i32, ray: usize): void {
  mishap(kind, a, b, load<f64>(ray, X), load<f64>(ray, Y), load<f64>(ray, Z));
}

/** A body's number in the list by wavelength; what is around stands behind the last. */
// @ts-ignore: decorator
@inline
function byWave(list: usize, solid: i32, wave: i32): f64 {
  return load<f64>(list + 8 * usize((solid < 0 ? solidCount : solid) * waveCount + wave));
}

/** One step of a ray whose nearest face is known; false where it ends. */
export function step(ray: usize): bool {
  const face = load<i32>(ray, HIT);
  const far = load<f64>(ray, BEST);
  const wave = load<i32>(ray, WAVE);
  const solid = innermost(ray);
  let flux = load<f64>(ray, FLUX);
  let way = face < 0 ? Infinity : Math.max(0, far);
  let scattered = false;
  if (solid >= 0) {
    const scattering = load<f64>(solids + usize(solid) * SOLID_SIZE, SOLID_SCATTERING);
    if (scattering > 0) {
      const free = -Math.log(uniform(ray)) / scattering;
      scattered = free < way;
      if (scattered) way = free;
    }
  }
  const marks = load<i32>(ray, FRESH);
  if ((marks & MARK_FRESH) != 0) {
    store<i32>(ray, marks & ~MARK_FRESH, FRESH);
    if (scattered || face >= 0) {
      const place = met + 8 * usize(load<i32>(ray, SOURCE));
      store<f64>(place, load<f64>(place) + 1);
    }
  }
  const loss = byWave(absorption, solid, wave);
  if (loss > 0 && way < Infinity) {
    const left = flux * Math.exp(-loss * way);
    ledger(IN_BODIES, flux - left);
    if (solid >= 0) {
      const place = solids + usize(solid) * SOLID_SIZE + SOLID_ABSORBED;
      store<f64>(place, load<f64>(place) + (flux - left));
    }
    if (volumes) {
      store<f64>(PLACE, load<f64>(ray, X));
      store<f64>(PLACE, load<f64>(ray, Y), 8);
      store<f64>(PLACE, load<f64>(ray, Z), 16);
      store<f64>(PLACE, load<f64>(ray, L), 24);
      store<f64>(PLACE, load<f64>(ray, M), 32);
      store<f64>(PLACE, load<f64>(ray, N), 40);
      depositForeign(way, flux, loss, wave);
    }
    flux = left;
    store<f64>(ray, flux, FLUX);
  }
  let alive = true;
  if (scattered) {
    move(ray, way);
    diffuse(ray, solid);
    store<i32>(ray, load<i32>(ray, EVENTS) + 1, EVENTS);
  } else if (face < 0) {
    ledger(ESCAPED, flux);
    if (solid >= 0) warn(MISHAP_LEAK, solid, -1, ray);
    countFar(ray, flux);
    return false;
  } else {
    move(ray, far);
    alive = interact(ray, face, wave);
  }
  return alive && goOn(ray);
}

/** Whether a ray that had its step is worth another: of too many events, or too weak, it ends here (or by lot). */
export function goOn(ray: usize): bool {
  const flux = load<f64>(ray, FLUX);
  if (load<i32>(ray, EVENTS) >= mostEvents) {
    ledger(CUT_OFF, flux);
    return false;
  }
  const least = threshold * load<f64>(ray, FIRST);
  if (flux < least) {
    if (split) {
      ledger(CUT_OFF, flux);
      return false;
    }
    // Ended by lot, or strengthened so that nothing changes on the whole.
    if (uniform(ray) < flux / least) {
      ledger(BY_LOT, flux - least);
      store<f64>(ray, least, FLUX);
    } else {
      ledger(BY_LOT, flux);
      return false;
    }
  }
  return true;
}

// @ts-ignore: decorator
@inline
function move(ray: usize, way: f64): void {
  store<f64>(ray, load<f64>(ray, X) + way * load<f64>(ray, L), X);
  store<f64>(ray, load<f64>(ray, Y) + way * load<f64>(ray, M), Y);
  store<f64>(ray, load<f64>(ray, Z) + way * load<f64>(ray, N), Z);
}

let ol: f64 = 0;
let om: f64 = 0;
let on: f64 = 0;

/** The direction with parts (u, v, along) about a unit vector: see `aboutDirection`. */
function about(x: f64, y: f64, z: f64, along: f64, u: f64, v: f64): void {
  const sign: f64 = z < 0 ? -1 : 1;
  const a = -1 / (sign + z);
  const b = x * y * a;
  ol = u * (1 + sign * x * x * a) + v * b + along * x;
  om = u * sign * b + v * (sign + y * y * a) + along * y;
  on = -u * sign * x - v * y + along * z;
}

/** Scattering in a body, after Henyey and Greenstein: see `henyeyGreensteinCosine`. */
function diffuse(ray: usize, solid: i32): void {
  const g = load<f64>(solids + usize(solid) * SOLID_SIZE, SOLID_ASYMMETRY);
  const u = uniform(ray);
  let cosine: f64;
  if (Math.abs(g) < 1e-4) cosine = 2 * u - 1 + 1.5 * g * (1 - (2 * u - 1) * (2 * u - 1));
  else {
    const ratio = (1 - g * g) / (1 - g + 2 * g * u);
    cosine = (1 + g * g - ratio * ratio) / (2 * g);
  }
  const sine = Math.sqrt(Math.max(0, 1 - cosine * cosine));
  const turn = 2 * Math.PI * uniform(ray);
  about(load<f64>(ray, L), load<f64>(ray, M), load<f64>(ray, N), cosine, sine * Math.cos(turn), sine * Math.sin(turn));
  aim(ray);
}

/** Takes a new direction. It is a unit vector but for rounding: one step of Newton's method does for the root. */
// @ts-ignore: decorator
@inline
function aim(ray: usize): void {
  const scale = 1.5 - 0.5 * (ol * ol + om * om + on * on);
  store<f64>(ray, ol * scale, L);
  store<f64>(ray, om * scale, M);
  store<f64>(ray, on * scale, N);
}

let reflected: f64 = 0;
let through: f64 = 0;

/** Fresnel's shares at a bare face, of unpolarised light: see `bareShares`. */
// @ts-ignore: decorator
@inline
function bare(n1: f64, n2: f64, cosine: f64): void {
  const sine = (n1 / n2) * Math.sqrt(Math.max(0, 1 - cosine * cosine));
  if (!(sine < 1)) {
    reflected = 1;
    through = 0;
    return;
  }
  const behind = Math.sqrt(1 - sine * sine);
  const s = (n1 * cosine - n2 * behind) / (n1 * cosine + n2 * behind);
  const p = (n2 * cosine - n1 * behind) / (n2 * cosine + n1 * behind);
  reflected = (s * s + p * p) / 2;
  through = (1 - s * s + (1 - p * p)) / 2;
}

/** See `metalShares`. */
function metal(n1: f64, n: f64, k: f64, cosine: f64): void {
  const sines = n1 * n1 * Math.max(0, 1 - cosine * cosine);
  const re = n * n - k * k - sines;
  const im = 2 * n * k;
  const size = Math.sqrt(re * re + im * im);
  const u = Math.sqrt(Math.max(0, (size + re) / 2));
  const v = Math.sqrt(Math.max(0, (size - re) / 2));
  const a = n1 * cosine;
  const rs = ((a - u) * (a - u) + v * v) / ((a + u) * (a + u) + v * v);
  const pr = (n * n - k * k) * cosine;
  const pi = im * cosine;
  const rp =
    ((pr - n1 * u) * (pr - n1 * u) + (pi - n1 * v) * (pi - n1 * v)) /
    ((pr + n1 * u) * (pr + n1 * u) + (pi + n1 * v) * (pi + n1 * v));
  reflected = (rs + rp) / 2;
  through = 0;
}

// What the parts of the light at the face under way have in common.
let gx: f64 = 0;
let gy: f64 = 0;
let gz: f64 = 0;
let cosine: f64 = 0;
let n1: f64 = 0;
let n2: f64 = 0;

/** Shares the ray's flux out at a face. The ray becomes the strongest of what goes on; false where nothing does. */
function interact(ray: usize, i: i32, wave: i32): bool {
  const face = faces + usize(i) * FACE_SIZE;
  const x = load<f64>(ray, X);
  const y = load<f64>(ray, Y);
  const z = load<f64>(ray, Z);
  const r0 = load<f64>(face, 0);
  const r1 = load<f64>(face, 8);
  const r2 = load<f64>(face, 16);
  const r3 = load<f64>(face, 24);
  const r4 = load<f64>(face, 32);
  const r5 = load<f64>(face, 40);
  const r6 = load<f64>(face, 48);
  const r7 = load<f64>(face, 56);
  const r8 = load<f64>(face, 64);
  const px = r0 * x + r1 * y + r2 * z + load<f64>(face, FACE_SHIFT);
  const py = r3 * x + r4 * y + r5 * z + load<f64>(face, FACE_SHIFT + 8);
  const pz = r6 * x + r7 * y + r8 * z + load<f64>(face, FACE_SHIFT + 16);
  const flux = load<f64>(ray, FLUX);
  const watching = load<i32>(face, FACE_DETECTORS);
  const list: usize = load<u32>(face, FACE_DETECTOR_LIST);
  if (load<i32>(face, FACE_THROUGH) != 0) {
    for (let k = 0; k < watching; k++) countAt(load<i32>(list + 4 * usize(k)), ray, px, py, pz, flux);
    return true;
  }
  const events = load<i32>(ray, EVENTS) + 1;
  store<i32>(ray, events, EVENTS);
  const optics = usize(load<u32>(face, FACE_OPTICS)) + usize(wave) * FINISH_SIZE;
  const kind = load<i32>(optics, FINISH_KIND);
  const opaque = load<i32>(optics, FINISH_OPAQUE) != 0;
  const form = load<i32>(face, FACE_FORM);
  // The normal in the coordinates of the scene, turned to the side light goes to.
  if (form == FORM_FLAT) {
    gx = r6;
    gy = r7;
    gz = r8;
  } else {
    let nx: f64;
    let ny: f64;
    let nz: f64;
    if (form == FORM_QUADRIC) {
      const a = load<f64>(face, FACE_NUMBERS);
      nx = a * px;
      ny = a * py;
      nz = load<f64>(face, FACE_NUMBERS + 8) * pz + load<f64>(face, FACE_NUMBERS + 16);
      const scale = load<f64>(face, FACE_NUMBERS + 72) / Math.sqrt(nx * nx + ny * ny + nz * nz);
      nx *= scale;
      ny *= scale;
      nz *= scale;
    } else if (form == FORM_MESH) {
      normalOfSlot(face, load<i32>(ray, TRIANGLE), RETURNED);
      nx = load<f64>(RETURNED);
      ny = load<f64>(RETURNED, 8);
      nz = load<f64>(RETURNED, 16);
      const scale = 1 / Math.sqrt(nx * nx + ny * ny + nz * nz);
      nx *= scale;
      ny *= scale;
      nz *= scale;
    } else {
      normalForeign(i, px, py, pz);
      nx = load<f64>(RETURNED);
      ny = load<f64>(RETURNED, 8);
      nz = load<f64>(RETURNED, 16);
    }
    gx = r0 * nx + r3 * ny + r6 * nz;
    gy = r1 * nx + r4 * ny + r7 * nz;
    gz = r2 * nx + r5 * ny + r8 * nz;
  }
  cosine = load<f64>(ray, L) * gx + load<f64>(ray, M) * gy + load<f64>(ray, N) * gz;
  const outward = cosine > 0;
  if (!outward) {
    gx = -gx;
    gy = -gy;
    gz = -gz;
    cosine = -cosine;
  }
  if (cosine > 1) cosine = 1;
  const inner = load<i32>(face, FACE_INNER);
  const outer = load<i32>(face, FACE_OUTER);
  const here = innermost(ray);
  const there = inner < 0 ? here : beyond(ray, inner, outer, outward);
  n1 = byWave(indices, here, wave);
  n2 = byWave(indices, there, wave);
  for (let k = 0; k < watching; k++) {
    const d = load<i32>(list + 4 * usize(k));
    if (load<i32>(detectors + usize(d) * DETECTOR_SIZE, DETECTOR_COUNTS) == COUNTS_INCIDENT) countAt(d, ray, px, py, pz, flux);
  }
  if (!(n1 > 0) || (!opaque && !(n2 > 0))) {
    // A medium without an index, or a body without a medium: the light ends here.
    reflected = 0;
    through = 0;
    if (inner >= 0 && !opaque) warn(MISHAP_OPAQUE, there < 0 ? inner : there, -1, ray);
  } else if (kind == FINISH_FIXED) {
    reflected = load<f64>(optics, FINISH_FIRST);
    through = load<f64>(optics, FINISH_SECOND);
    // Where the medium behind knows no such angle, light that would go through is reflected.
    if (through > 0 && n1 * n1 * (1 - cosine * cosine) >= n2 * n2) {
      reflected += through;
      through = 0;
    }
  } else if (kind == FINISH_BARE) bare(n1, n2, cosine);
  else if (kind == FINISH_METAL) metal(n1, load<f64>(optics, FINISH_FIRST), load<f64>(optics, FINISH_SECOND), cosine);
  else {
    sharesForeign(i, wave, n1, n2, cosine, outward);
    reflected = load<f64>(RETURNED);
    through = load<f64>(RETURNED, 8);
  }
  const absorbed = flux * Math.max(0, 1 - reflected - through);
  store<f64>(face, load<f64>(face, FACE_ABSORBED) + absorbed, FACE_ABSORBED);
  for (let k = 0; k < watching; k++) {
    const d = load<i32>(list + 4 * usize(k));
    const what = load<i32>(detectors + usize(d) * DETECTOR_SIZE, DETECTOR_COUNTS);
    if (what == COUNTS_ABSORBED) countAt(d, ray, px, py, pz, absorbed);
    else if (what == COUNTS_LEAVING) countAt(d, ray, px, py, pz, flux - absorbed);
  }
  ledger(watching > 0 ? DETECTED : ABSORBED, absorbed);
  const sine = Math.sqrt(Math.max(0, 1 - cosine * cosine));
  // Behind the face the sine is that of the refracted light.
  const spreadR = reflected > 0 ? spread(optics, false, i, wave, sine) : 0;
  const spreadT = through > 0 ? spread(optics, true, i, wave, Math.min(1, (sine * n1) / n2)) : 0;
  const p0 = flux * reflected * (1 - spreadR);
  const p1 = flux * reflected * spreadR;
  const p2 = flux * through * (1 - spreadT);
  const p3 = flux * through * spreadT;
  const whole = p0 + p1 + p2 + p3;
  const firstFlux = load<f64>(ray, FIRST);
  if (!(whole > FAINT * firstFlux)) {
    ledger(CUT_OFF, whole);
    return false;
  }
  const drawAimed = aims > 0 && (load<i32>(ray, FRESH) & MARK_AIMED) == 0;
  if (drawAimed) {
    if (p1 > 0) sendAimed(ray, 1, p1, i, wave, optics, inner, outer, outward, events);
    if (p3 > 0) sendAimed(ray, 3, p3, i, wave, optics, inner, outer, outward, events);
  }
  let chosen = 0;
  let strongest = p0;
  if (split) {
    if (p1 > strongest) {
      chosen = 1;
      strongest = p1;
    }
    if (p2 > strongest) {
      chosen = 2;
      strongest = p2;
    }
    if (p3 > strongest) {
      chosen = 3;
      strongest = p3;
    }
    if (strongest < whole) {
      const least = threshold * firstFlux;
      for (let k = 0; k < 4; k++) {
        const part = k == 0 ? p0 : k == 1 ? p1 : k == 2 ? p2 : p3;
        if (k == chosen || part == 0) continue;
        if (part < least) {
          ledger(CUT_OFF, part);
          continue;
        }
        direct(ray, k, i, wave, optics);
        const keeps = drawAimed ? kept(ray, k, i, wave, optics) : 1;
        if (keeps < 1) ledger(BY_LOT, part * (1 - keeps));
        push(ray, part * keeps, k, inner, outer, outward, events, 0);
      }
    }
  } else {
    let left = uniform(ray) * whole;
    if (left >= p0) {
      left -= p0;
      chosen = 1;
      if (left >= p1) {
        left -= p1;
        chosen = 2;
        if (left >= p2) chosen = 3;
      }
    }
    strongest = whole;
  }
  direct(ray, chosen, i, wave, optics);
  if (drawAimed) {
    const keeps = kept(ray, chosen, i, wave, optics);
    ledger(BY_LOT, strongest * (1 - keeps));
    strongest *= keeps;
  }
  aim(ray);
  store<f64>(ray, strongest, FLUX);
  if (chosen >= 2) cross(ray, inner, outer, outward);
  return true;
}

/** Share that is spread of what goes one way. */
// @ts-ignore: decorator
@inline
function spread(optics: usize, through: bool, i: i32, wave: i32, sine: f64): f64 {
  const kind = through ? load<i32>(optics, FINISH_TRANSMITTED) : load<i32>(optics, FINISH_REFLECTED);
  if (kind == SPREAD_NONE) return 0;
  if (kind == SPREAD_EVEN) return through ? load<f64>(optics, FINISH_EVEN_T) : load<f64>(optics, FINISH_EVEN_R);
  return Math.min(1, spreadForeign(i, wave, through, sine));
}

/** The solid behind a face of `inner`; −1 for what is around. */
function beyond(ray: usize, inner: i32, outer: i32, outward: bool): i32 {
  if (!outward) return inner;
  if (outer >= 0) return outer;
  let place = load<i32>(ray, DEPTH_OF) - 1;
  if (place >= 0 && inside(ray, place) == inner) place--;
  return place >= 0 ? inside(ray, place) : -1;
}

/** Where part k of the light goes: 0 reflected, 1 that scattered, 2 refracted, 3 that scattered. */
function direct(ray: usize, k: i32, i: i32, wave: i32, optics: usize): void {
  const l = load<f64>(ray, L);
  const m = load<f64>(ray, M);
  const n = load<f64>(ray, N);
  let side: f64;
  if (k < 2) {
    const twice = 2 * cosine;
    ol = l - twice * gx;
    om = m - twice * gy;
    on = n - twice * gz;
    side = -1;
  } else {
    const ratio = n1 / n2;
    const along = Math.sqrt(Math.max(0, 1 - ratio * ratio * (1 - cosine * cosine))) - ratio * cosine;
    ol = ratio * l + along * gx;
    om = ratio * m + along * gy;
    on = ratio * n + along * gz;
    side = 1;
  }
  if (k == 0 || k == 2) return;
  // In the frame of the face: z along the normal on the side light goes to.
  const zx = side * gx;
  const zy = side * gy;
  const zz = side * gz;
  const sign: f64 = zz < 0 ? -1 : 1;
  const a = -1 / (sign + zz);
  const b = zx * zy * a;
  const ax = 1 + sign * zx * zx * a;
  const ay = sign * b;
  const az = -sign * zx;
  const bx = b;
  const by = sign + zy * zy * a;
  const bz = -zy;
  const kind = k == 3 ? load<i32>(optics, FINISH_TRANSMITTED) : load<i32>(optics, FINISH_REFLECTED);
  let dx: f64;
  let dy: f64;
  let dz: f64;
  if (kind == SPREAD_FOREIGN) {
    const sx = ol * ax + om * ay + on * az;
    const sy = ol * bx + om * by + on * bz;
    drawForeign(i, wave, k == 3, sx, sy, load<u32>(ray, KEY_A), load<u32>(ray, KEY_B), load<u32>(ray, DRAWS));
    store<u32>(ray, u32(load<f64>(RETURNED, 24)), DRAWS);
    dx = load<f64>(RETURNED);
    dy = load<f64>(RETURNED, 8);
    dz = load<f64>(RETURNED, 16);
  } else {
    const sine = Math.sqrt(uniform(ray));
    const turn = 2 * Math.PI * uniform(ray);
    dx = sine * Math.cos(turn);
    dy = sine * Math.sin(turn);
    dz = Math.sqrt(1 - sine * sine);
  }
  ol = dx * ax + dy * bx + dz * zx;
  om = dx * ay + dy * by + dz * zy;
  on = dx * az + dy * bz + dz * zz;
}

/** Out of one body and into another, as a face between them says. */
function cross(ray: usize, inner: i32, outer: i32, outward: bool): void {
  if (inner < 0) return;
  const left = outward ? inner : outer;
  const entered = outward ? outer : inner;
  if (left >= 0) leave(ray, left);
  if (entered >= 0) {
    const depth = load<i32>(ray, DEPTH_OF);
    if (depth < DEPTH) {
      store<u16>(2 * (ray + usize(depth)), u16(entered), STACK);
      store<i32>(ray, depth + 1, DEPTH_OF);
    } else warn(MISHAP_OVERLAP, entered, -1, ray);
  }
}

function leave(ray: usize, solid: i32): void {
  const depth = load<i32>(ray, DEPTH_OF);
  for (let k = depth - 1; k >= 0; k--) {
    if (inside(ray, k) != solid) continue;
    if (k < depth - 1) warn(MISHAP_OVERLAP, solid, inside(ray, depth - 1), ray);
    for (let j = k; j < depth - 1; j++) store<u16>(2 * (ray + usize(j)), u16(inside(ray, j + 1)), STACK);
    store<i32>(ray, depth - 1, DEPTH_OF);
    return;
  }
}

/** Writes where part k is scattered, and where it would go from a smooth face, into PLACE. */
function standAt(ray: usize, k: i32, i: i32, wave: i32, optics: usize): void {
  const side: f64 = k < 2 ? -1 : 1;
  direct(ray, k - 1, i, wave, optics);
  store<f64>(PLACE, load<f64>(ray, X));
  store<f64>(PLACE, load<f64>(ray, Y), 8);
  store<f64>(PLACE, load<f64>(ray, Z), 16);
  store<f64>(PLACE, side * gx, 24);
  store<f64>(PLACE, side * gy, 32);
  store<f64>(PLACE, side * gz, 40);
  store<f64>(PLACE, ol, 48);
  store<f64>(PLACE, om, 56);
  store<f64>(PLACE, on, 64);
}

/** What a drawn ray of part k keeps of its flux beside those that are aimed: see `ScatterAims`. */
function kept(ray: usize, k: i32, i: i32, wave: i32, optics: usize): f64 {
  if (k != 1 && k != 3) return 1;
  const l = ol;
  const m = om;
  const n = on;
  standAt(ray, k, i, wave, optics);
  ol = l;
  om = m;
  on = n;
  return keptForeign(i, wave, k == 3, l, m, n);
}

/** Sends what part k scatters into the cones of the aims, a ray each: see `ScatterAims`. */
function sendAimed(ray: usize, k: i32, part: f64, i: i32, wave: i32, optics: usize, inner: i32, outer: i32, outward: bool, events: i32): void {
  standAt(ray, k, i, wave, optics);
  for (let j = 0; j < aims; j++) {
    const share = aimForeign(j, i, wave, k == 3, load<u32>(ray, KEY_A), load<u32>(ray, KEY_B), load<u32>(ray, DRAWS));
    store<u32>(ray, u32(load<f64>(RETURNED, 24)), DRAWS);
    if (!(share > 0)) continue;
    ol = load<f64>(RETURNED);
    om = load<f64>(RETURNED, 8);
    on = load<f64>(RETURNED, 16);
    const flux = part * share;
    ledger(BY_LOT, -flux);
    const child = top;
    push(ray, flux, k, inner, outer, outward, events, u32(j + 1) * u32(AIMED_CHILD));
    store<f64>(child, flux, RAY_FIRST);
    store<i32>(child, MARK_AIMED, RAY_FRESH);
  }
}

/** A child of the ray waits its turn; `apart` sets its key apart from that of another of the same part. */
function push(ray: usize, flux: f64, part: i32, inner: i32, outer: i32, outward: bool, events: i32, apart: u32): void {
  const child = top;
  top += RAY_SIZE;
  if (part >= 2) {
    // The bodies that it is in then, written where the parent's are, which are put back.
    const depth = load<i32>(ray, DEPTH_OF);
    const low = load<u64>(2 * ray, STACK);
    const high = load<u64>(2 * ray, STACK + 8);
    cross(ray, inner, outer, outward);
    pack(ray, child);
    store<i32>(ray, depth, DEPTH_OF);
    store<u64>(2 * ray, low, STACK);
    store<u64>(2 * ray, high, STACK + 8);
  } else pack(ray, child);
  const scale = 1.5 - 0.5 * (ol * ol + om * om + on * on);
  store<f64>(child, ol * scale, RAY_L);
  store<f64>(child, om * scale, RAY_M);
  store<f64>(child, on * scale, RAY_N);
  store<f64>(child, flux, RAY_FLUX);
  // A child draws numbers of its own.
  store<u32>(child, mixBits(load<u32>(ray, KEY_A) + u32(4 * events + part) * u32(CHILD) + apart), RAY_KEY_A);
  store<u32>(child, 0, RAY_DRAWS);
}
