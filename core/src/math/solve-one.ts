import { rootBetween } from './root.ts';

/** What is looked for. */
export interface RootSearch {
  /** NaN where the function has no value. */
  readonly f: (x: number) => number;
  readonly start: number;
  /** A first step, small against what changes the function's course. */
  readonly step: number;
  /** Whether a value of f is as good as 0. */
  readonly enough: (value: number) => boolean;
  /** Bounds that are not left. */
  readonly from?: number;
  readonly to?: number;
}

const SECANTS = 40;
const SCANS = 60;

/**
 * A zero of a function of one number, the nearest that is found: secants from the start, which meet a straight line at once; where they
 * wander off or the function ends, brackets that widen on both sides of the start. Null where none is found.
 */
export function solveOne(search: RootSearch): number | null {
  return bySecants(search) ?? byBrackets(search);
}

function bySecants({ f, start, step, enough, from = -Infinity, to = Infinity }: RootSearch): number | null {
  let [a, fa] = [start, f(start)];
  if (Number.isNaN(fa)) return null;
  let b = start + step <= to ? start + step : start - step;
  let fb = f(b);
  if (Number.isNaN(fb)) [b, fb] = [start - step, f(start - step)];
  let best = Math.abs(fa) <= Math.abs(fb) || Number.isNaN(fb) ? a : b;
  let least = Math.min(Math.abs(fa), Number.isNaN(fb) ? Infinity : Math.abs(fb));
  for (let k = 0; k < SECANTS; k++) {
    if (fb === 0) return b;
    const slope = (fb - fa) / (b - a);
    if (!(Math.abs(slope) > 0) || !Number.isFinite(slope)) break;
    let next = Math.min(to, Math.max(from, b - fb / slope));
    if (next === b) break;
    let value = f(next);
    for (let back = 0; Number.isNaN(value) && back < 8; back++) {
      next = (next + b) / 2;
      value = f(next);
    }
    if (Number.isNaN(value)) break;
    [a, fa, b, fb] = [b, fb, next, value];
    // Once it is good enough, it is taken as far as it still gets better.
    if (Math.abs(value) < least) [best, least] = [next, Math.abs(value)];
    else if (enough(least)) break;
  }
  return enough(least) ? best : null;
}

function byBrackets({ f, start, step, enough, from = -Infinity, to = Infinity }: RootSearch): number | null {
  for (const width of [1, 100]) {
    const ends = [start, start];
    const values = [f(start), f(start)];
    let reach = width * Math.abs(step);
    for (let k = 0; k < SCANS; k++, reach *= 1.35) {
      for (const [side, sign] of [
        [0, -1],
        [1, 1],
      ] as const) {
        const next = Math.min(to, Math.max(from, start + sign * reach));
        if (next === ends[side]) continue;
        const value = f(next);
        if (Number.isNaN(value)) continue;
        if (!Number.isNaN(values[side]) && value < 0 !== values[side] < 0) {
          const found = rootBetween(f, ends[side], next, values[side], value);
          if (enough(Math.abs(f(found)))) return found; // a jump through infinity changes its sign, too
        }
        [ends[side], values[side]] = [next, value];
      }
    }
  }
  return null;
}
