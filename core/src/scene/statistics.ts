import { detectorUnits } from './charts.ts';
import type { CompiledDetector } from './detectors.ts';
import { countedOf, type Counted, type Look } from './channels.ts';
import { MOMENTS, type DetectorTally } from './tally.ts';

/** A number with its standard error: one standard deviation, from the spread between chunks. NaN where one chunk alone was traced. */
export interface Estimate {
  readonly value: number;
  readonly standardError: number;
}

/** Relative error of a sum over many rays in double precision: some hundreds of units in the last place. */
const ROUNDING = 1e-13;

/** Numbers of what a detector counted. Places in mm or, for the far field, degrees. */
export interface DetectorNumbers {
  /** W or lm. */
  readonly flux: Estimate;
  /** Per mm² (W/mm²; lux for photometric ones) or per sr (W/sr, cd). */
  readonly mean: Estimate;
  readonly peak: Estimate;
  /** Least cell over mean, in the cells that hold light or lie between such. */
  readonly uniformity: number;
  readonly centroidX: Estimate;
  readonly centroidY: Estimate;
  /** √(Σ Φ|r − r₀|²/ΣΦ) about the centroid. */
  readonly rmsRadius: Estimate;
  readonly hits: number;
}

/**
 * Estimates of a detector from the tally of many chunks. Each chunk stands for the whole flux; ratios (centroid, radius) take their
 * error from the spread of what makes them up, to first order.
 *
 * @param look - what of the light is looked at; all of it, in the unit of the detector, when left out
 */
export function detectorNumbers(
  meter: Pick<CompiledDetector, 'size' | 'detector' | 'chart' | 'channels'>,
  counts: DetectorTally,
  chunks: number,
  look: Look = {},
): DetectorNumbers {
  const { size, detector, chart } = meter;
  const unit = detectorUnits({ light: look.light ?? detector.light }, chart).scale;
  const tally = countedOf(meter, counts, look);
  const means = momentMeans(tally.moments, chunks);
  const [w, wx, wy, wxx, wyy] = means;
  const [cx, cy] = [wx / w, wy / w];
  const variance = (wxx + wyy) / w - cx * cx - cy * cy;
  const rms = Math.sqrt(Math.max(0, variance));
  const spreadOf = (gradient: readonly number[]) => linearError(tally.moments, chunks, means, gradient);
  const area = size.reduce((sum, cell) => sum + cell, 0);
  let [peak, peakError, least, lit] = [0, 0, Infinity, 0];
  for (let cell = 0; cell < size.length; cell++) {
    if (!(size[cell] > 0)) continue;
    const value = tally.sum[cell] / chunks / size[cell];
    if (value > peak) {
      peak = value;
      peakError = cellError(tally, cell, chunks) / size[cell];
    }
    if (tally.sum[cell] > 0) lit++;
    least = Math.min(least, value);
  }
  const average = w / area;
  return {
    flux: { value: w, standardError: spreadOf([1, 0, 0, 0, 0]) },
    mean: { value: average * unit, standardError: (spreadOf([1, 0, 0, 0, 0]) / area) * unit },
    peak: { value: peak * unit, standardError: peakError * unit },
    uniformity: lit === 0 ? NaN : least / average,
    centroidX: { value: cx, standardError: spreadOf([-cx / w, 1 / w, 0, 0, 0]) },
    centroidY: { value: cy, standardError: spreadOf([-cy / w, 0, 1 / w, 0, 0]) },
    rmsRadius: {
      value: rms,
      // d(rms) = d(variance)/(2 rms); variance = (wxx + wyy)/w − (wx² + wy²)/w².
      standardError: spreadOf(
        [
          -(wxx + wyy) / (w * w) + (2 * (wx * wx + wy * wy)) / w ** 3,
          (-2 * wx) / (w * w),
          (-2 * wy) / (w * w),
          1 / w,
          1 / w,
        ].map((part) => part / (2 * rms)),
      ),
    },
    hits: tally.hits,
  };
}

/** Standard error of what a cell holds on the mean over chunks; 0 where the chunks differ by rounding alone. */
export function cellError({ sum, squares }: Pick<Counted, 'sum' | 'squares'>, cell: number, chunks: number): number {
  if (chunks < 2) return NaN;
  const mean = sum[cell] / chunks;
  const variance = squares[cell] / chunks - mean * mean;
  return variance > ROUNDING * mean * mean ? Math.sqrt(variance / (chunks - 1)) : 0;
}

function momentMeans(moments: Float64Array, chunks: number): number[] {
  const means = new Array<number>(MOMENTS).fill(0);
  for (let i = 0; i < moments.length; i++) means[i % MOMENTS] += moments[i] / chunks;
  return means;
}

/** Standard error of Σ gᵢ·mᵢ over the means of the moments; 0 where the chunks differ by rounding alone. */
function linearError(
  moments: Float64Array,
  chunks: number,
  means: readonly number[],
  gradient: readonly number[],
): number {
  let squares = 0;
  for (let chunk = 0; chunk < chunks; chunk++) {
    let off = 0;
    for (let k = 0; k < MOMENTS; k++) off += gradient[k] * (moments[chunk * MOMENTS + k] - means[k]);
    squares += off * off;
  }
  const error = Math.sqrt(squares / chunks / (chunks - 1));
  const scale = gradient.reduce((sum, g, k) => sum + Math.abs(g * means[k]), 0);
  return error <= ROUNDING * scale ? 0 : error;
}
