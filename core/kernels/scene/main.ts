/** The tracer of scenes, block by block. AssemblyScript, built by `npm run kernels`; `SceneTracer` is its test oracle. */
import { FEW, RAY_SIZE } from '../../src/scene/kernel-layout';
import { nearestOfFew } from './few';
import { launchRays } from './launch';
import { nearest } from './nearest';
import { BLOCK, configure as readScene, faceCount, MEETINGS, rays, RETURNED } from './state';
import { copyRay, getTop, setTop, step } from './turn';

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

/** Launches an even number of rays from a source, numbered on from `from`, on top of the `waiting` ones. */
export function launch(source: usize, waiting: i32, from: i32, count: i32): void {
  launchRays(source, rays + usize(waiting) * RAY_SIZE, u32(from), count);
}

/**
 * Takes rays that wait a step on until no more than `keep` are left, the last come first, or until there might be no room for more.
 *
 * @param waiting - how many wait
 * @param room - how many there is room for
 * @returns how many wait then
 */
export function trace(waiting: i32, keep: i32, room: i32): i32 {
  while (waiting > keep && waiting + 3 * BLOCK <= room) {
    const taken = min(waiting, BLOCK);
    const base = rays + usize(waiting - taken) * RAY_SIZE;
    setTop(base + usize(taken) * RAY_SIZE);
    if (faceCount <= FEW) nearestOfFew(base, taken);
    else for (let i = 0; i < taken; i++) nearest(base + usize(i) * RAY_SIZE, i);
    // From the last one down: what stands above has had its step, and may fill the place of one that ends.
    for (let i = taken - 1; i >= 0; i--) {
      const ray = base + usize(i) * RAY_SIZE;
      if (step(ray, i)) continue;
      const last = getTop() - RAY_SIZE;
      if (last != ray) copyRay(ray, last);
      setTop(last);
    }
    waiting = i32((getTop() - rays) / RAY_SIZE);
  }
  return waiting;
}
