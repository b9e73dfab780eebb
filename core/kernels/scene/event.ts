/** What becomes of light at a face, as `FaceEvents` has it. */
import {
  AIMED_CHILD, COUNTS_ABSORBED, COUNTS_INCIDENT, COUNTS_LEAVING, DETECTOR_COUNTS, DETECTOR_SIZE, FACE_ABSORBED, FACE_DETECTOR_LIST,
  FACE_DETECTORS, FACE_FORM, FACE_INNER, FACE_NUMBERS, FACE_OPTICS, FACE_OUTER, FACE_SHIFT, FACE_SIZE, FACE_THROUGH, FINISH_OPAQUE,
  FINISH_REFLECTED, FINISH_SIZE, FINISH_TRANSMITTED, FORM_FLAT, FORM_MESH, FORM_QUADRIC, MARK_AIMED, MISHAP_OPAQUE, RAY_FIRST,
  RAY_FRESH,
} from '../../src/scene/kernel-layout.ts';
import {
  about, across, acrossU, acrossV, reflect, refract, setDirection, toL, toM, toN,
} from '../../src/physics/directions.ts';
import { EVENTS, FIRST, FLUX, FRESH, innermost, L, M, N, TRIANGLE, X, Y, Z } from './block';
import { beyond, byWave, cross } from './bodies';
import { countAt } from './count';
import { ABSORBED, BY_LOT, CUT_OFF, DETECTED, ledger, warn } from './ledger';
import { normalOfSlot } from './mesh';
import { uniform } from './random';
import { findShares, noShares, reflected, through } from './shares';
import { aimedShare, drawAimed, drawScattered, scatteredShare } from './spread';
import { aimCount, detectors, faces, indices, normalForeign, RETURNED, split, threshold } from './state';
import { aim, getTop, push } from './waiting';

/** Weaker than this no child ray is worth a draw: over the flux of its launch, or over what is scattered. */
const FAINT: f64 = 1e-30;

// What the parts of the light at the face under way have in common: normal, incidence, media, laws of scatter.
let gx: f64 = 0;
let gy: f64 = 0;
let gz: f64 = 0;
let cosine: f64 = 0;
let n1: f64 = 0;
let n2: f64 = 0;
let lawR: usize = 0;
let lawT: usize = 0;

/** Shares the ray's flux out at a face. The ray becomes the strongest of what goes on; false where nothing does. */
export function meetFace(ray: usize, i: i32, wave: i32): bool {
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
    noShares();
    if (inner >= 0 && !opaque) warn(MISHAP_OPAQUE, there < 0 ? inner : there, -1, ray);
  } else findShares(optics, i, wave, n1, n2, cosine, outward);
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
  lawR = load<u32>(optics, FINISH_REFLECTED);
  lawT = load<u32>(optics, FINISH_TRANSMITTED);
  const spreadR = reflected > 0 && lawR != 0 ? scatteredShare(lawR, sine) : 0;
  const spreadT = through > 0 && lawT != 0 ? scatteredShare(lawT, Math.min(1, (sine * n1) / n2)) : 0;
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
  const drawAimed = aimCount > 0 && (load<i32>(ray, FRESH) & MARK_AIMED) == 0;
  if (drawAimed) {
    if (p1 > FAINT * firstFlux) sendAimed(ray, 1, p1, inner, outer, outward, events);
    if (p3 > FAINT * firstFlux) sendAimed(ray, 3, p3, inner, outer, outward, events);
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
        direct(ray, k);
        const keeps = drawAimed ? kept(ray, k) : 1;
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
    // Rounding may leave a hair of it behind the last part that there is.
    if (chosen == 3 && p3 == 0) chosen = 2;
    if (chosen == 2 && p2 == 0) chosen = 1;
    if (chosen == 1 && p1 == 0) chosen = 0;
    strongest = whole;
  }
  direct(ray, chosen);
  if (drawAimed) {
    const keeps = kept(ray, chosen);
    ledger(BY_LOT, strongest * (1 - keeps));
    strongest *= keeps;
  }
  aim(ray);
  store<f64>(ray, strongest, FLUX);
  if (chosen >= 2) cross(ray, inner, outer, outward);
  return true;
}

/** Finds where part k of the light goes: 0 reflected, 1 that scattered, 2 refracted, 3 that scattered. */
function direct(ray: usize, k: i32): void {
  const l = load<f64>(ray, L);
  const m = load<f64>(ray, M);
  const n = load<f64>(ray, N);
  if (k < 2) reflect(l, m, n, gx, gy, gz, cosine);
  else refract(l, m, n, gx, gy, gz, cosine, n1 / n2);
  if (k == 0 || k == 2) return;
  // In the frame of the face: z along the normal on the side light goes to.
  const side: f64 = k == 1 ? -1 : 1;
  const zx = side * gx;
  const zy = side * gy;
  const zz = side * gz;
  across(zx, zy, zz, toL, toM, toN);
  drawScattered(k == 1 ? lawR : lawT, ray, acrossU, acrossV);
  about(zx, zy, zz, toN, toL, toM);
}

// Where light would go from a smooth face, of the part that is looked at.
let sl: f64 = 0;
let sm: f64 = 0;
let sn: f64 = 0;

/** Finds where part k would go from a smooth face. */
function standAt(ray: usize, k: i32): void {
  direct(ray, k - 1);
  sl = toL;
  sm = toM;
  sn = toN;
}

/** What a drawn ray of part k keeps of its flux beside those that are aimed: see `ScatterAims`. */
function kept(ray: usize, k: i32): f64 {
  if (k != 1 && k != 3) return 1;
  const l = toL;
  const m = toM;
  const n = toN;
  standAt(ray, k);
  setDirection(l, m, n);
  const side: f64 = k < 2 ? -1 : 1;
  const law = k == 1 ? lawR : lawT;
  return aimedShare(law, load<f64>(ray, X), load<f64>(ray, Y), load<f64>(ray, Z), side * gx, side * gy, side * gz, sl, sm, sn);
}

/** Sends what part k scatters into the cones of the aims, a ray each: see `ScatterAims`. */
function sendAimed(ray: usize, k: i32, part: f64, inner: i32, outer: i32, outward: bool, events: i32): void {
  standAt(ray, k);
  const side: f64 = k < 2 ? -1 : 1;
  const law = k == 1 ? lawR : lawT;
  const x = load<f64>(ray, X);
  const y = load<f64>(ray, Y);
  const z = load<f64>(ray, Z);
  for (let j = 0; j < aimCount; j++) {
    const share = drawAimed(j, law, ray, x, y, z, side * gx, side * gy, side * gz, sl, sm, sn);
    if (!(share > FAINT)) continue;
    const flux = part * share;
    ledger(BY_LOT, -flux);
    const child = getTop();
    push(ray, flux, k, inner, outer, outward, events, u32(j + 1) * u32(AIMED_CHILD));
    store<f64>(child, flux, RAY_FIRST);
    store<i32>(child, MARK_AIMED, RAY_FRESH);
  }
}
