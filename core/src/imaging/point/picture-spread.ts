import type { FieldPoint } from '../../project/model.ts';
import type { Detail } from '../wavefront/diffraction-pupil.ts';
import type { LensEvaluation } from '../evaluation/lens-evaluation.ts';
import { pointSpread } from './point-spread.ts';
import { fieldSpot, forEachArrival } from './spot.ts';

/** At how many places and colours the image of a point was found in which way. */
export interface Blurs {
  diffraction: number;
  rays: number;
  none: number;
  /** Largest share of the light of a point that falls beyond what is computed. */
  lost: number;
}

export interface SpreadChoice {
  /** `automatic`: by diffraction where the wavefront allows it, else by rays. */
  readonly blur: 'automatic' | 'rays' | 'none';
  readonly pupil: 'full' | 'clipped';
  readonly detail: Detail;
  /** Side of a cell, mm. */
  readonly pitch: number;
  /** Counted up. */
  readonly blurs: Blurs;
}

/** The image of a point in cells about its own chief ray, its light 1, wrapped so that the middle is the first cell; null where there is none. */
export function spreadInCells(
  lens: LensEvaluation,
  field: FieldPoint,
  wave: number,
  { blur, pupil, detail, pitch, blurs }: SpreadChoice,
  n: number,
  most: number,
): Float64Array | null {
  if (blur === 'automatic') {
    const spread = pointSpread(lens, field, { method: 'transform', detail, wave, pupil });
    if (spread.ok) {
      blurs.diffraction++;
      return inCells(spread.value, pitch, n, most);
    }
  }
  const spot = fieldSpot(lens, field, { sampling: { kind: 'polar', rings: 24, arms: 60 }, pupil }, wave);
  if (!spot.ok || !spot.value.chief) return null;
  blurs.rays++;
  const [cx, cy] = spot.value.chief;
  const kernel = new Float64Array(n * n);
  let total = 0;
  forEachArrival(spot.value.colours, ({ x, y }, i, weight) => {
    total += weight;
    const [p, q] = [(x[i] - cx) / pitch, (y[i] - cy) / pitch];
    const [column, row] = [Math.floor(p), Math.floor(q)];
    const [s, t] = [p - column, q - row];
    // Shared by the four cells around: a ray is no smaller than a cell.
    for (const [dc, dr, part] of [
      [0, 0, (1 - s) * (1 - t)],
      [1, 0, s * (1 - t)],
      [0, 1, (1 - s) * t],
      [1, 1, s * t],
    ]) {
      const [c, r] = [column + dc, row + dr];
      if (Math.abs(c) < most && Math.abs(r) < most) kernel[((r + n) % n) * n + ((c + n) % n)] += weight * part;
    }
  });
  let kept = 0;
  for (let at = 0; at < kernel.length; at++) kept += kernel[at] /= total;
  blurs.lost = Math.max(blurs.lost, 1 - kept);
  return kernel;
}

/** A point spread function in coarser or finer cells: the mean of cubics through its own values over each. */
function inCells(
  { n: from, pitch: own, values }: { n: number; pitch: number; values: Float64Array },
  pitch: number,
  n: number,
  most: number,
): Float64Array {
  const kernel = new Float64Array(n * n);
  const reach = Math.min(most - 1, Math.ceil(((from / 2) * own) / pitch));
  const fine = Math.max(1, Math.min(24, Math.ceil((2 * pitch) / own)));
  // Along each side: which values, and how they count in a cell.
  const parts = Array.from({ length: 2 * reach + 1 }, (_, k) => {
    const shares = new Map<number, number>();
    for (let f = 0; f < fine; f++) {
      const at = ((k - reach + (f + 0.5) / fine - 0.5) * pitch) / own + from / 2;
      const low = Math.floor(at);
      cubic(at - low).forEach((share, i) => {
        const index = low - 1 + i;
        if (index >= 0 && index < from) shares.set(index, (shares.get(index) ?? 0) + share / fine);
      });
    }
    return [...shares];
  });
  // First along x for every row, then along y.
  const narrow = new Float64Array(from * parts.length);
  for (let row = 0; row < from; row++)
    parts.forEach((shares, k) => {
      let sum = 0;
      for (const [index, share] of shares) sum += share * values[row * from + index];
      narrow[row * parts.length + k] = sum;
    });
  let total = 0;
  parts.forEach((shares, r) =>
    parts.forEach((_, c) => {
      let sum = 0;
      for (const [index, share] of shares) sum += share * narrow[index * parts.length + c];
      total += sum;
      kernel[((r - reach) & (n - 1)) * n + ((c - reach) & (n - 1))] = sum;
    }),
  );
  for (let at = 0; at < kernel.length; at++) kernel[at] /= total;
  return kernel;
}

/** How four neighbouring values count between the middle two: R. G. Keys, IEEE Trans. ASSP 29, 1153 (1981), a = −1/2. */
function cubic(t: number): readonly number[] {
  return [
    t * (-0.5 + t * (1 - 0.5 * t)),
    1 + t * t * (-2.5 + 1.5 * t),
    t * (0.5 + t * (2 - 1.5 * t)),
    t * t * (-0.5 + 0.5 * t),
  ];
}
