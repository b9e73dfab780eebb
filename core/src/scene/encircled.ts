import { countedOf } from './channels.ts';
import type { CompiledDetector } from './detectors.ts';
import { cellError, type DetectorNumbers, type Estimate } from './statistics.ts';
import type { DetectorTally } from './tally.ts';

/** Pieces of a cell along x and y: its light counts as spread evenly over it. */
const PIECES = 5;

/**
 * Radius about the centroid that holds a share of the flux on a map, in its coordinates (mm or degrees).
 *
 * The standard error is that of the flux within, over the slope of the enclosed flux at that radius, the cells counted as independent.
 *
 * @param share - between 0 and 1
 */
export function encircledRadius(
  meter: Pick<CompiledDetector, 'range' | 'detector' | 'channels'>,
  counts: DetectorTally,
  chunks: number,
  { centroidX, centroidY }: DetectorNumbers,
  share: number,
): Estimate {
  const {
    range: { x, y },
    detector: { columns, rows },
  } = meter;
  const tally = countedOf(meter, counts);
  const [dx, dy] = [(x[1] - x[0]) / columns, (y[1] - y[0]) / rows];
  const pieces: { readonly r: number; readonly flux: number; readonly variance: number }[] = [];
  let whole = 0;
  for (let cell = 0; cell < columns * rows; cell++) {
    // Layers of a block are seen along z.
    for (let k = cell; k < tally.sum.length; k += columns * rows) {
      const flux = tally.sum[k] / chunks;
      if (flux === 0) continue;
      whole += flux;
      const variance = cellError(tally, k, chunks) ** 2 / PIECES ** 2;
      for (let i = 0; i < PIECES * PIECES; i++) {
        const px = x[0] + ((cell % columns) + ((i % PIECES) + 0.5) / PIECES) * dx;
        const py = y[0] + (Math.floor(cell / columns) + (Math.floor(i / PIECES) + 0.5) / PIECES) * dy;
        const r = Math.hypot(px - centroidX.value, py - centroidY.value);
        pieces.push({ r, flux: flux / PIECES ** 2, variance });
      }
    }
  }
  if (pieces.length === 0) return { value: NaN, standardError: NaN };
  pieces.sort((a, b) => a.r - b.r);
  const wanted = share * whole;
  let [within, variance, i] = [0, 0, 0];
  while (i < pieces.length - 1 && within + pieces[i].flux < wanted) {
    within += pieces[i].flux;
    variance += pieces[i].variance;
    i++;
  }
  const value = pieces[i].r;
  // The slope over a cell's width about the radius: single steps of the sum say nothing.
  const reach = Math.max(dx, dy) / 2;
  const near = pieces.reduce((sum, { r, flux }) => (Math.abs(r - value) <= reach ? sum + flux : sum), 0);
  const slope = near / (2 * reach);
  return { value, standardError: Math.sqrt(variance * (1 - share)) / slope };
}
