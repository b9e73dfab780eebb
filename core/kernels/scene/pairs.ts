/**
 * Two rays of the block that meet the same plain face (an absorber or a mirror of fixed share) from outside of all bodies, in SIMD lanes:
 * what `turn.ts` does with each of them, without normals of unit length.
 */
import {
  COUNTS_ABSORBED, COUNTS_INCIDENT, DETECTOR_COUNTS, DETECTOR_SIZE, FACE_ABSORBED, FACE_DETECTOR_LIST, FACE_DETECTORS,
  FACE_FORM, FACE_NUMBERS, FACE_PLAIN, FACE_SHARE, FACE_SHIFT, FACE_SIZE, FACE_UPRIGHT, FORM_QUADRIC, MARK_FRESH,
} from '../../src/scene/kernel-layout.ts';
import { BEST, DEPTH_OF, EVENTS, FIRST, FLUX, FRESH, HIT, L, M, N, SOURCE, TRIANGLE, X, Y, Z } from './block';
import { countPair } from './count';
import { mul, add, both } from './lanes';
import { detectors, faces, met, mostEvents, threshold } from './state';
import { ABSORBED, DETECTED, ledger } from './ledger';
import { goOn } from './turn';

/** In the place of a face: a ray that has had its step, and one that ended. */
export const DONE: i32 = -3;
export const ENDED: i32 = -4;
/** One that stands at a mirror, its direction still the old one. */
const MET: i32 = -5;

const KNOWN: usize = memory.data<f64>([0.5, 1.5]);

// @ts-ignore: decorator
@inline
function begun(ray: usize): void {
  const marks = load<i32>(ray, FRESH);
  if ((marks & MARK_FRESH) == 0) return;
  store<i32>(ray, marks & ~MARK_FRESH, FRESH);
  const place = met + 8 * usize(load<i32>(ray, SOURCE));
  store<f64>(place, load<f64>(place) + 1);
}

/** Takes all such pairs among the first `count` rays a step on, and marks them. */
export function turnPairs(count: i32): void {
  const half = v128.load64_splat(KNOWN);
  const onePointFive = v128.load64_splat(KNOWN, 8);
  for (let i = 0; i + 1 < count; i += 2) {
    const at: usize = 8 * usize(i);
    const index = load<i32>(at, HIT);
    if (index < 0 || index != load<i32>(at, HIT + 8)) continue;
    const face = faces + usize(index) * FACE_SIZE;
    if (load<i32>(face, FACE_PLAIN) == 0) continue;
    if ((load<i32>(at, DEPTH_OF) | load<i32>(at, DEPTH_OF + 8)) != 0) continue;
    begun(at);
    begun(at + 8);
    const t = v128.load(at, BEST);
    const l = v128.load(at, L);
    const m = v128.load(at, M);
    const n = v128.load(at, N);
    const x = add(v128.load(at, X), mul(t, l));
    const y = add(v128.load(at, Y), mul(t, m));
    const z = add(v128.load(at, Z), mul(t, n));
    const flux = v128.load(at, FLUX);
    const share = load<f64>(face, FACE_SHARE);
    const on = mul(flux, f64x2.splat(share));
    const absorbed = f64x2.sub(flux, on);
    const watching = load<i32>(face, FACE_DETECTORS);
    const list: usize = load<u32>(face, FACE_DETECTOR_LIST);
    for (let k = 0; k < watching; k++) {
      let px = x;
      let py = y;
      if (load<i32>(face, FACE_UPRIGHT) == 0) {
        px = add(add(mul(turn(face, 0), x), mul(turn(face, 1), y)), mul(turn(face, 2), z));
        py = add(add(mul(turn(face, 3), x), mul(turn(face, 4), y)), mul(turn(face, 5), z));
      }
      px = add(px, v128.load64_splat(face, FACE_SHIFT));
      py = add(py, v128.load64_splat(face, FACE_SHIFT + 8));
      const d = load<i32>(list + 4 * usize(k));
      const what = load<i32>(detectors + usize(d) * DETECTOR_SIZE, DETECTOR_COUNTS);
      countPair(d, at, px, py, what == COUNTS_INCIDENT ? flux : what == COUNTS_ABSORBED ? absorbed : on);
    }
    if (share < 1) {
      const taken = both(absorbed);
      store<f64>(face, load<f64>(face, FACE_ABSORBED) + taken, FACE_ABSORBED);
      ledger(watching > 0 ? DETECTED : ABSORBED, taken);
    }
    if (share == 0) {
      store<i32>(at, ENDED, HIT);
      store<i32>(at, ENDED, HIT + 8);
      continue;
    }
    v128.store(at, x, X);
    v128.store(at, y, Y);
    v128.store(at, z, Z);
    v128.store(at, on, FLUX);
    store<i32>(at, MET, HIT);
    store<i32>(at, index, TRIANGLE);
  }
  const least = f64x2.splat(threshold);
  // A loop of its own, which lets the machine work on many pairs at once.
  for (let i = 0; i + 1 < count; i += 2) {
    const at: usize = 8 * usize(i);
    if (load<i32>(at, HIT) != MET) continue;
    const face = faces + usize(load<i32>(at, TRIANGLE)) * FACE_SIZE;
    const upright = load<i32>(face, FACE_UPRIGHT) != 0;
    const l = v128.load(at, L);
    const m = v128.load(at, M);
    const n = v128.load(at, N);
    let nx: v128;
    let ny: v128;
    let nz: v128;
    let size: v128;
    if (load<i32>(face, FACE_FORM) == FORM_QUADRIC) {
      const x = v128.load(at, X);
      const y = v128.load(at, Y);
      const z = v128.load(at, Z);
      let px = x;
      let py = y;
      let pz = z;
      if (!upright) {
        px = add(add(mul(turn(face, 0), x), mul(turn(face, 1), y)), mul(turn(face, 2), z));
        py = add(add(mul(turn(face, 3), x), mul(turn(face, 4), y)), mul(turn(face, 5), z));
        pz = add(add(mul(turn(face, 6), x), mul(turn(face, 7), y)), mul(turn(face, 8), z));
      }
      px = add(px, v128.load64_splat(face, FACE_SHIFT));
      py = add(py, v128.load64_splat(face, FACE_SHIFT + 8));
      pz = add(pz, v128.load64_splat(face, FACE_SHIFT + 16));
      const a = v128.load64_splat(face, FACE_NUMBERS);
      const lx = mul(a, px);
      const ly = mul(a, py);
      const lz = add(mul(v128.load64_splat(face, FACE_NUMBERS + 8), pz), v128.load64_splat(face, FACE_NUMBERS + 16));
      size = add(add(mul(lx, lx), mul(ly, ly)), mul(lz, lz));
      nx = lx;
      ny = ly;
      nz = lz;
      if (!upright) {
        nx = add(add(mul(turn(face, 0), lx), mul(turn(face, 3), ly)), mul(turn(face, 6), lz));
        ny = add(add(mul(turn(face, 1), lx), mul(turn(face, 4), ly)), mul(turn(face, 7), lz));
        nz = add(add(mul(turn(face, 2), lx), mul(turn(face, 5), ly)), mul(turn(face, 8), lz));
      }
    } else {
      nx = turn(face, 6);
      ny = turn(face, 7);
      nz = turn(face, 8);
      size = f64x2.splat(1);
    }
    const across = add(add(mul(l, nx), mul(m, ny)), mul(n, nz));
    const twice = f64x2.div(add(across, across), size);
    const rl = f64x2.sub(l, mul(twice, nx));
    const rm = f64x2.sub(m, mul(twice, ny));
    const rn = f64x2.sub(n, mul(twice, nz));
    // A unit vector but for rounding: one step of Newton's method does for the root.
    const long = add(add(mul(rl, rl), mul(rm, rm)), mul(rn, rn));
    const scale = f64x2.sub(onePointFive, mul(half, long));
    v128.store(at, mul(rl, scale), L);
    v128.store(at, mul(rm, scale), M);
    v128.store(at, mul(rn, scale), N);
    store<i32>(at, load<i32>(at, EVENTS) + 1, EVENTS);
    store<i32>(at, load<i32>(at, EVENTS + 8) + 1, EVENTS + 8);
    const events = max(load<i32>(at, EVENTS), load<i32>(at, EVENTS + 8));
    const strong = f64x2.ge(v128.load(at, FLUX), mul(least, v128.load(at, FIRST)));
    if (events < mostEvents && i64x2.all_true(strong)) {
      store<i32>(at, DONE, HIT);
      store<i32>(at, DONE, HIT + 8);
    } else {
      store<i32>(at, goOn(at) ? DONE : ENDED, HIT);
      store<i32>(at, goOn(at + 8) ? DONE : ENDED, HIT + 8);
    }
  }
}

// @ts-ignore: decorator
@inline
function turn(face: usize, at: i32): v128 {
  return v128.load64_splat(face + 8 * usize(at));
}
