import type { ComplexNumber } from '../../compute/correlation.ts';
import { gaussLegendre } from '../../math/quadrature.ts';

/** A pupil as the autocorrelation sees it: where it is open along lines, and its amplitude and phase. */
export interface PupilFunction {
  /** Range of lines: y of lines along x, or x of lines along y. */
  range(axis: 0 | 1): readonly [number, number];
  /** The line along an axis at a place of the other one. */
  line(axis: 0 | 1, at: number): PupilLine;
}

/** A pupil along one line. */
export interface PupilLine {
  /** Open intervals, in rising order. */
  readonly open: readonly (readonly [number, number])[];
  /** Writes amplitude and phase (radians) at a place into `out`. */
  value(along: number, out: Float64Array): void;
}

/** A value of an optical transfer function. */
export type Transfer = ComplexNumber;

/** The same, with what the pupil would pass without any phase: the limit of diffraction. */
export interface LimitedTransfer extends Transfer {
  readonly limit: number;
}

/**
 * Takes a pair of places whose product is part of an overlap integral: where both are along the shift, and where across it; the share of the
 * integral over that at no shift, amplitudes included, and the difference of phases, radians.
 */
export type OverlapVisitor = (ahead: number, behind: number, across: number, weight: number, phase: number) => void;

/** Lines on which it is looked how an overlap falls into intervals, and halvings that find where that changes. */
const LINES = 64;
const HALVINGS = 20;

type Interval = readonly [number, number];

/**
 * The autocorrelation of a pupil at shifts along an axis, over that at none: the optical transfer function (H. H. Hopkins, Proc. Phys. Soc. B
 * 69, 562, 1956). Gauss–Legendre nodes on lines along the shift and across them, each open interval by itself and in panels between
 * the places where intervals come and go, so that edges and obscurations cost no accuracy.
 *
 * @param axis - 0 for shifts along x, 1 along y
 * @param nodes - on each interval, and across each panel
 * @param visit - is shown every pair of the integrals at the shifts
 */
export function autocorrelation(
  pupil: PupilFunction,
  axis: 0 | 1,
  shifts: readonly number[],
  nodes: number,
  visit?: OverlapVisitor,
): LimitedTransfer[] {
  const rule = gaussLegendre(nodes);
  const [low, high] = pupil.range(axis === 0 ? 1 : 0);
  const known = new Map<number, PupilLine>();
  const lineAt = (at: number) => {
    let found = known.get(at);
    if (!found) known.set(at, (found = pupil.line(axis, at)));
    return found;
  };
  const [a, b] = [new Float64Array(2), new Float64Array(2)];

  const integral = (shift: number, whole = 0): LimitedTransfer => {
    const overlap = (at: number) => overlaps(lineAt(at).open, shift);
    let [re, im, limit] = [0, 0, 0];
    for (const [from, to] of panels(low, high, (at) => patternOf(overlap(at)))) {
      for (let line = 0; line < nodes; line++) {
        // Evenly over an angle: near both ends of a panel intervals may shrink with a square root.
        const turn = (Math.PI / 2) * rule.nodes[line];
        const at = (from + to) / 2 + ((to - from) / 2) * Math.sin(turn);
        const across = rule.weights[line] * Math.cos(turn) * ((to - from) / 2);
        const here = lineAt(at);
        for (const { from: start, to: end } of overlap(at)) {
          const half = (end - start) / 2;
          for (let k = 0; k < nodes; k++) {
            const along = start + half * (rule.nodes[k] + 1);
            here.value(along + shift / 2, a);
            here.value(along - shift / 2, b);
            const weight = across * rule.weights[k] * half * a[0] * b[0];
            limit += weight;
            re += weight * Math.cos(a[1] - b[1]);
            im += weight * Math.sin(a[1] - b[1]);
            if (visit && whole > 0) visit(along + shift / 2, along - shift / 2, at, weight / whole, a[1] - b[1]);
          }
        }
      }
    }
    return { re, im, limit };
  };
  const { re: whole } = integral(0);
  return shifts.map((shift) => {
    const { re, im, limit } = integral(shift, whole);
    return { re: re / whole, im: im / whole, limit: limit / whole };
  });
}

/** Stretches of a range on which a number stays the same and is not 0. */
function panels(low: number, high: number, count: (at: number) => number): Interval[] {
  const found: Interval[] = [];
  let begun = low;
  let [last, before] = [low, 0];
  for (let k = 0; k <= LINES + 1; k++) {
    const at = k === 0 ? low : k > LINES ? high : low + ((high - low) * (k - 0.5)) / LINES;
    const now = k === 0 || k > LINES ? 0 : count(at);
    if (now !== before) {
      let [a, b] = [last, at];
      for (let step = 0; step < HALVINGS; step++) {
        const middle = (a + b) / 2;
        if (count(middle) === before) a = middle;
        else b = middle;
      }
      if (before > 0) found.push([begun, b]);
      begun = a;
    }
    [last, before] = [at, now];
  }
  return found;
}

/** An interval of an overlap, with a number for the edges that bound it. */
interface Overlap {
  readonly from: number;
  readonly to: number;
  readonly edges: number;
}

/** A number that differs where other edges bound the intervals; 0 for none. */
function patternOf(found: readonly Overlap[]): number {
  return found.reduce((pattern, { edges }) => (pattern * 61 + edges + 1) % 1_000_003, 0);
}

/** Where a set of intervals shifted by half to both sides overlaps itself. */
function overlaps(intervals: readonly Interval[], shift: number): Overlap[] {
  const found: Overlap[] = [];
  intervals.forEach(([a, b], i) =>
    intervals.forEach(([c, d], k) => {
      // u + s/2 in the one and u − s/2 in the other.
      const [from, to] = [Math.max(a - shift / 2, c + shift / 2), Math.min(b - shift / 2, d + shift / 2)];
      const edges =
        4 * (intervals.length * i + k) +
        (a - shift / 2 > c + shift / 2 ? 1 : 0) +
        (b - shift / 2 < d + shift / 2 ? 2 : 0);
      if (to > from) found.push({ from, to, edges: edges + 64 * intervals.length });
    }),
  );
  return found;
}
