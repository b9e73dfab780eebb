/** The tracer of scenes, block by block. AssemblyScript, built by `npm run kernels`; `SceneTracer` is its test oracle. */
import { FEW, RAY_SIZE } from '../../src/scene/kernel-layout.ts';
import { BLOCK, HIT, moveTo, unpack } from './block';
import { nearestOfFew } from './few';
import { launchRays } from './launch';
import { nearest } from './nearest';
import { DONE, ENDED, turnPairs } from './pairs';
import { aimCount, clear, configure as readScene, faceCount, MEETINGS, PLACE, rays, RETURNED } from './state';
import { step } from './turn';
import { getTop, setTop } from './waiting';

/** Rays in the block. */
let live: i32 = 0;

export function configure(record: usize): void {
  readScene(record);
}

/** First free byte of the memory: where tables may stand. */
export function heap(): usize {
  return __heap_base;
}

export function meetings(): usize {
  return MEETINGS;
}

export function returned(): usize {
  return RETURNED;
}

export function place(): usize {
  return PLACE;
}

/** Takes every ray of the block one step on. Their children lie on top of those that wait then. */
function round(): void {
  if (faceCount <= FEW) {
    nearestOfFew(live);
    if (clear) turnPairs(live);
  } else for (let i = 0; i < live; i++) nearest(8 * usize(i));
  // From the last one down: what stands behind has had its step, and may fill the place of one that ends.
  let left = live;
  for (let i = live - 1; i >= 0; i--) {
    const ray: usize = 8 * usize(i);
    const mark = load<i32>(ray, HIT);
    if (mark == DONE || (mark != ENDED && step(ray))) continue;
    left--;
    if (left != i) moveTo(ray, 8 * usize(left));
  }
  live = left;
}

/** Fills the block from the rays that wait, the last come first. */
function refill(): void {
  let top = getTop();
  while (live < BLOCK && top > rays) {
    top -= RAY_SIZE;
    unpack(8 * usize(live), top);
    live++;
  }
  setTop(top);
}

/**
 * Launches rays from a source and takes them on, until all are launched or there might be no room for children.
 *
 * @param waiting - how many rays lie in records
 * @param from - number of the first ray to launch, to the last, left out
 * @param room - how many records there is room for
 * @returns number of the next ray to launch
 */
export function launch(source: usize, waiting: i32, from: i32, to: i32, room: i32): i32 {
  setTop(rays + usize(waiting) * RAY_SIZE);
  while (from < to) {
    if (getTop() + usize(3 + 2 * aimCount) * BLOCK * RAY_SIZE > rays + usize(room) * RAY_SIZE) return from;
    refill();
    // Two at a time: the last one of an odd number falls away, and must have a place to do so.
    let fresh = min(BLOCK - live, to - from);
    if ((fresh & 1) == 1 && (fresh < to - from || live + fresh == BLOCK)) fresh--;
    launchRays(source, 8 * usize(live), u32(from), fresh);
    live += fresh;
    from += fresh;
    round();
  }
  return from;
}

/** Takes rays on until no more than `keep` are left, or until there might be no room for more. */
export function trace(waiting: i32, keep: i32, room: i32): void {
  setTop(rays + usize(waiting) * RAY_SIZE);
  while (live + i32((getTop() - rays) / RAY_SIZE) > keep) {
    if (getTop() + usize(3 + 2 * aimCount) * BLOCK * RAY_SIZE > rays + usize(room) * RAY_SIZE) return;
    refill();
    round();
  }
}

/** How many rays lie in records. */
export function waits(): i32 {
  return i32((getTop() - rays) / RAY_SIZE);
}

/** How many are in the block. */
export function underWay(): i32 {
  return live;
}
