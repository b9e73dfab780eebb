/** Flux counted on the cells of detectors. */
import {
  DETECTOR_ACROSS, DETECTOR_CELLS, DETECTOR_CHART, DETECTOR_COLUMNS, DETECTOR_FAR, DETECTOR_MAP, DETECTOR_RADIUS, DETECTOR_ROWS,
  DETECTOR_SIZE, DETECTOR_SUMS, DETECTOR_TURN, DETECTOR_UP, DETECTOR_X, DETECTOR_Y, SUM_HITS, SUM_MOMENTS, SUM_SIZE,
} from '../../src/scene/kernel-layout.ts';
import { cellAt, mapX, mapY, placeOnMap } from '../../src/physics/cells.ts';
import { L, M, N, SOURCE, WAVE } from './block';
import { both } from './lanes';
import { channels, detectorCount, detectors, waveCount } from './state';

// @ts-ignore: decorator
@inline
function add(place: usize, value: f64): void {
  store<f64>(place, load<f64>(place) + value);
}

/** Index of the channel that a ray is counted in. */
// @ts-ignore: decorator
@inline
function channelOf(ray: usize): i32 {
  return load<i32>(channels + 4 * usize(load<i32>(ray, SOURCE) * waveCount + load<i32>(ray, WAVE)));
}

/** Counts flux at x, y of a detector's map; what falls outside of it is not counted. */
export function count(number: i32, ray: usize, x: f64, y: f64, flux: f64): void {
  const detector = detectors + usize(number) * DETECTOR_SIZE;
  const cell = cellAt(
    x, y, load<f64>(detector, DETECTOR_X), load<f64>(detector, DETECTOR_Y), load<f64>(detector, DETECTOR_ACROSS),
    load<f64>(detector, DETECTOR_UP), load<i32>(detector, DETECTOR_COLUMNS), load<i32>(detector, DETECTOR_ROWS),
  );
  if (cell < 0) return;
  const channel = channelOf(ray);
  add(usize(load<u32>(detector, DETECTOR_MAP)) + 8 * usize(channel * load<i32>(detector, DETECTOR_CELLS) + cell), flux);
  const sums: usize = usize(load<u32>(detector, DETECTOR_SUMS)) + usize(channel) * SUM_SIZE;
  const vx = flux * x;
  const vy = flux * y;
  add(sums + SUM_MOMENTS, flux);
  add(sums + SUM_MOMENTS + 8, vx);
  add(sums + SUM_MOMENTS + 16, vy);
  add(sums + SUM_MOMENTS + 24, vx * x);
  add(sums + SUM_MOMENTS + 32, vy * y);
  add(sums + SUM_HITS, 1);
}

/** Counts flux at a place in the coordinates of the face that a detector lies on. */
export function countAt(number: i32, ray: usize, x: f64, y: f64, z: f64, flux: f64): void {
  const detector = detectors + usize(number) * DETECTOR_SIZE;
  placeOnMap(load<i32>(detector, DETECTOR_CHART), load<f64>(detector, DETECTOR_RADIUS), x, y, z);
  count(number, ray, mapX, mapY, flux);
}

/** Counts a ray that leaves the scene on every map of the far field. */
export function countFar(ray: usize, flux: f64): void {
  for (let d = 0; d < detectorCount; d++) {
    const detector = detectors + usize(d) * DETECTOR_SIZE;
    if (load<i32>(detector, DETECTOR_FAR) == 0) continue;
    const r = detector + DETECTOR_TURN;
    const gl = load<f64>(ray, L);
    const gm = load<f64>(ray, M);
    const gn = load<f64>(ray, N);
    const l = load<f64>(r) * gl + load<f64>(r, 8) * gm + load<f64>(r, 16) * gn;
    const m = load<f64>(r, 24) * gl + load<f64>(r, 32) * gm + load<f64>(r, 40) * gn;
    const n = load<f64>(r, 48) * gl + load<f64>(r, 56) * gm + load<f64>(r, 64) * gn;
    countAt(d, ray, l, m, n, flux);
  }
}

/** Counts two rays at once. */
// @ts-ignore: decorator
@inline
export function countPair(number: i32, ray: usize, x: v128, y: v128, flux: v128): void {
  const detector = detectors + usize(number) * DETECTOR_SIZE;
  const columns = load<i32>(detector, DETECTOR_COLUMNS);
  const column = f64x2.floor(f64x2.mul(f64x2.sub(x, v128.load64_splat(detector, DETECTOR_X)), v128.load64_splat(detector, DETECTOR_ACROSS)));
  const row = f64x2.floor(f64x2.mul(f64x2.sub(y, v128.load64_splat(detector, DETECTOR_Y)), v128.load64_splat(detector, DETECTOR_UP)));
  const zero = f64x2.splat(0);
  const inside = v128.and(
    v128.and(f64x2.ge(column, zero), f64x2.lt(column, f64x2.splat(f64(columns)))),
    v128.and(f64x2.ge(row, zero), f64x2.lt(row, f64x2.splat(f64(load<i32>(detector, DETECTOR_ROWS))))),
  );
  const channel = channelOf(ray);
  if (!i64x2.all_true(inside) || channel != channelOf(ray + 8)) {
    count(number, ray, f64x2.extract_lane(x, 0), f64x2.extract_lane(y, 0), f64x2.extract_lane(flux, 0));
    count(number, ray + 8, f64x2.extract_lane(x, 1), f64x2.extract_lane(y, 1), f64x2.extract_lane(flux, 1));
    return;
  }
  const cells = i32x4.trunc_sat_f64x2_s_zero(f64x2.add(f64x2.mul(row, f64x2.splat(f64(columns))), column));
  const map: usize = usize(load<u32>(detector, DETECTOR_MAP)) + 8 * usize(channel * load<i32>(detector, DETECTOR_CELLS));
  add(map + 8 * usize(i32x4.extract_lane(cells, 0)), f64x2.extract_lane(flux, 0));
  add(map + 8 * usize(i32x4.extract_lane(cells, 1)), f64x2.extract_lane(flux, 1));
  const vx = f64x2.mul(flux, x);
  const vy = f64x2.mul(flux, y);
  const sums: usize = usize(load<u32>(detector, DETECTOR_SUMS)) + usize(channel) * SUM_SIZE;
  add(sums + SUM_MOMENTS, both(flux));
  add(sums + SUM_MOMENTS + 8, both(vx));
  add(sums + SUM_MOMENTS + 16, both(vy));
  add(sums + SUM_MOMENTS + 24, both(f64x2.mul(vx, x)));
  add(sums + SUM_MOMENTS + 32, both(f64x2.mul(vy, y)));
  add(sums + SUM_HITS, 2);
}
